// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workbench/workbench.h"

#include <QDateTime>

#include "app/format/text.h"
#include "core/base/private_files.h"

namespace eh {

Workbench::Workbench(const Knowledge& knowledge_base, const BenchCosts& bench_costs,
                     const ReworkBook& rework_book)
    : knowledge(knowledge_base),
      costs(bench_costs),
      rework(rework_book),
      session(&repository),
      watch(repository, session),
      import(repository),
      shop_parts(rework, session.undoStack()),
      diagnosis(knowledge, costs),
      design(session, diagnosis, knowledge),
      meter_capture(session, recording, feed),
      talk_recording(feed),
      steering(session, feed),
      trace_watch(recording, feed) {
    feed.setColumns(preferences.meterColumns());
    wire();
}

// What listens to one another goes in any order.
Workbench::~Workbench() {
    all_jobs_.forget();
    lessons_.forget();
    session.disconnect();
    feed.disconnect();
    diagnosis.disconnect();
    diagnosis.cancel();
}

void Workbench::wire() {
    // The pages have been cleared, so that the same job opened again is asked again.
    connect(&session, &JobSession::opened, this, [this] {
        asked_.reset();
        // The suspects of the job before are none of this one's.
        diagnosis.clear();
    });
    connect(&session, &JobSession::changed, this, &Workbench::askAnew);
    connect(&repository, &JobRepository::shopGoes, &session, &JobSession::close);
    connect(&repository, &JobRepository::shopChanged, this, &Workbench::shopChanged);
    connect(&repository, &JobRepository::unsavedChanged, this, &Workbench::unsavedChanged);
    connect(&shop_parts, &ShopParts::unsavedChanged, this, &Workbench::unsavedChanged);
    connect(&feed, &MeterFeed::samplesArrived, &recording, &MeterRecording::append);
    connect(&feed, &MeterFeed::gapStarted, &recording, &MeterRecording::markGap);
    connect(&repository, &JobRepository::trouble, this, &Workbench::said);
    connect(&recording, &MeterRecording::trouble, this, &Workbench::said);
    connect(&shop_parts, &ShopParts::trouble, this, &Workbench::said);
    connect(&diagnosis, &DiagnosisService::refused, this, &Workbench::said);
    connect(&watch, &ShopWatch::said, this, &Workbench::said);
    connect(&design, &DesignService::taught, this, [this](const Job& job) {
        std::vector<TaughtMachine> taught = diagnosis.taught();
        std::erase_if(taught, [&](const TaughtMachine& earlier) { return earlier.job == job.id; });
        for (TaughtMachine& one : taught_machines({job}))
            taught.push_back(std::move(one));
        diagnosis.setTaught(std::move(taught));
    });
    if (preferences.supplyMayBeOn())
        supply.assumeLeftOn();
    connect(&supply, &BenchSupply::changed, this, [this] {
        const bool may_be_on = supply.output() != BenchSupply::Output::off;
        if (may_be_on != preferences.supplyMayBeOn())
            preferences.setSupplyMayBeOn(may_be_on);
    });
}

void Workbench::open(const Job& job) {
    recording.openJob(job.id, feed.now_s());
    session.open(job);
}

Job Workbench::freshTicket() {
    Job job;
    job.id = JobImport::freshId();
    const QDateTime now = QDateTime::currentDateTime();
    job.created_ms = now.toMSecsSinceEpoch();
    job.ticket.number = now.toString("yyMMdd-HHmm").toStdString();
    job.technician = preferences.technician().toStdString();
    // The survey starts with what the customer brought.
    job.bench.charger = Owner::customer;
    job.bench.lead = Owner::customer;
    return job;
}

void Workbench::askAnew() {
    const Job& job = session.job();
    if (job.ticket.topology.empty()) {
        if (asked_)
            diagnosis.clear();
        asked_.reset();
        return;
    }
    // Typing a name must not set the reasoning to work.
    const Asked now{job.readings,
                    job.ticket.topology,
                    {job.ticket.facts, job.ticket.facts_denied, job.ticket.facts_unknown},
                    job.ticket.fact_places,
                    job.bench,
                    job.acts,
                    job.out_of_reach,
                    job.ticket.like_its_kind,
                    teachers_of(job, diagnosis.taught()).size()};
    if (asked_ == now)
        return;
    asked_ = now;
    diagnosis.ask(job);
}

void Workbench::machineChanged(const std::string& topology) {
    diagnosis.forget(topology);
    asked_.reset();
    if (session.hasJob())
        session.reconsider();
}

void Workbench::shopChanged() {
    const bool open = repository.hasShop();
    const std::string beside = open ? repository.shop().file.string() : std::string();
    recording.keepIn(open ? beside + ".traces" : std::string());
    shop_parts.openFolder(open ? beside + ".parts" : std::string());
    if (open)
        mendRights(beside);
    countRepairs();
    diagnosis.setTaught({});
    if (open)
        readLessons();
}

// Files of an older program may be open to others.
void Workbench::mendRights(const std::filesystem::path& shop) {
    mending_.start(
        [shop](const TaskControl&) {
            for (const char* beside : {".traces", ".parts", ".photos"})
                make_private(shop.string() + beside);
            return true;
        },
        [](bool) {});
}

QString Workbench::unsaved() const {
    const QStringList jobs = repository.unsaved();
    QStringList what;
    if (!jobs.isEmpty())
        what << tr("job %1").arg(jobs.join(", "));
    if (const QStringList lists = shop_parts.unsaved(); !lists.isEmpty())
        what << lists.join(", ");
    return what.isEmpty() ? QString() : tr("Not on disk: %1. Trying again.").arg(what.join("; "));
}

bool Workbench::bringToDisk() {
    constexpr std::chrono::milliseconds patience{3000};
    shop_parts.flush();
    return repository.waitUntilSaved(patience) && shop_parts.unsaved().isEmpty();
}

void Workbench::countRepairs(std::function<void()> then) {
    repository.ask<Result<std::vector<ConfirmedRepair>>>(
        repairs_asked_, [](JobStore& store) { return store.repairs(); },
        [this, then = std::move(then)](const Result<std::vector<ConfirmedRepair>>& repairs) {
            if (!repairs) {
                emit said(format::qt(repairs.error().text()));
                return;
            }
            repairs_ = count_repairs(knowledge, *repairs);
            diagnosis.setShopRates(preferences.useShopRates() ? repairs_ : ShopRates{});
            if (then)
                then();
        });
}

void Workbench::useShopRates(bool use) {
    preferences.setUseShopRates(use);
    diagnosis.setShopRates(use ? repairs_ : ShopRates{});
    if (session.hasJob())
        diagnosis.ask(session.job());
}

void Workbench::countJobs(const std::vector<std::string>& topologies,
                          std::function<void(const std::vector<Result<int>>&)> answer) {
    if (!repository.hasShop()) {
        answer(std::vector<Result<int>>(topologies.size(), Result<int>(0)));
        return;
    }
    auto asking = std::make_shared<Asking>();  // lives until it is answered
    repository.ask<std::vector<Result<int>>>(
        *asking,
        [topologies](JobStore& store) {
            std::vector<Result<int>> counts;
            counts.reserve(topologies.size());
            for (const std::string& topology : topologies)
                counts.push_back(store.jobs_on(topology));
            return counts;
        },
        [asking, answer = std::move(answer)](const std::vector<Result<int>>& counts) { answer(counts); });
}

void Workbench::readAllJobs(std::function<void(const Result<std::vector<Job>>&)> answer) {
    // Through a view of its own: a large shop takes its time, and entries are not to wait for it.
    repository.ask<JobStore::Opener>(
        view_asked_, [](JobStore& store) { return store.another(); },
        [this, answer = std::move(answer)](const JobStore::Opener& open) {
            all_jobs_.start(
                [open](const TaskControl&) {
                    auto store = open();
                    return store ? (*store)->heads(JobStage::intake)
                                 : Result<std::vector<Job>>(store.error());
                },
                answer);
        });
}

void Workbench::readLessons() {
    // Through a view of its own, as readAllJobs().
    repository.ask<JobStore::Opener>(
        lessons_asked_, [](JobStore& store) { return store.another(); },
        [this](const JobStore::Opener& open) {
            lessons_.start(
                [open](const TaskControl&) {
                    auto store = open();
                    return store ? (*store)->heads(JobStage::intake)
                                 : Result<std::vector<Job>>(store.error());
                },
                [this](const Result<std::vector<Job>>& jobs) {
                    if (jobs)
                        takeLessons(taught_machines(*jobs));
                    else
                        emit said(format::qt(jobs.error().text()));
                });
        });
}

void Workbench::takeLessons(std::vector<TaughtMachine> taught) {
    diagnosis.setTaught(std::move(taught));
    if (session.hasJob() && asked_ && !teachers_of(session.job(), diagnosis.taught()).empty())
        diagnosis.ask(session.job());
}

void Workbench::close() {
    design.cancel();
    diagnosis.cancel();
    feed.close();
    // A supply that feeds a net is not left on by a window that goes.
    supply.close();
}

}  // namespace eh
