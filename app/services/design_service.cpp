// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/design_service.h"

#include <algorithm>

#include "core/machine/model/seen_outside.h"
#include "core/planning/known_before.h"

namespace eh {
namespace {

std::vector<ArchitectureShare> architectures(const Knowledge& knowledge, const std::vector<Topology>& alike,
                                             std::map<std::string, std::shared_ptr<Engine>>& engines,
                                             const Beforehand& beforehand,
                                             const std::vector<Reading>& readings,
                                             const TaskControl& control) {
    std::vector<ArchitectureCandidate> candidates;
    for (const Topology& topology : alike) {
        std::shared_ptr<Engine>& engine = engines[topology.id];
        if (engine == nullptr)
            engine = std::make_shared<Engine>(knowledge, topology);
        candidates.push_back({&engine->topology, &engine->reasoner});
    }
    // What was learnt of one kind says nothing of another.
    Beforehand of_all = beforehand;
    of_all.learnt = {};
    auto shares = weigh_architectures(
        candidates, of_all, readings, [&control] { return control.stopped(); },
        [&control](double share) { (void)control.goes_on(share); });
    if (!shares)
        return {};
    std::stable_sort(shares->begin(), shares->end(),
                     [](const ArchitectureShare& a, const ArchitectureShare& b) { return a.now > b.now; });
    return std::move(*shares);
}

// Of the machine on the bench, those that a kind it may still be lacks.
std::vector<std::string> unsure_parts(const Topology& own, const std::vector<Topology>& alike,
                                      const std::vector<ArchitectureShare>& shares) {
    constexpr double may_be = 0.05;
    std::vector<const Topology*> others;
    for (const ArchitectureShare& share : shares) {
        for (const Topology& topology : alike) {
            if (topology.id == share.topology && topology.id != own.id && share.now >= may_be)
                others.push_back(&topology);
        }
    }
    return parts_not_in_all(own, others);
}

}  // namespace

DesignService::DesignService(JobSession& session, DiagnosisService& diagnosis, const Knowledge& knowledge,
                             QObject* parent)
    : QObject(parent), session_(session), diagnosis_(diagnosis), knowledge_(knowledge) {
    connect(&session_, &JobSession::changed, this, &DesignService::learnOrForget);
    connect(&session_, &JobSession::changed, this, &DesignService::watchKind);
    connect(&session_, &JobSession::opened, this, &DesignService::cancel);
    connect(&diagnosis_, &DiagnosisService::finished, this, [this] {
        // What was said of earlier readings goes when they are no reason any more.
        if (!kindIsInDoubt())
            emit kindsWeighed({});
        else
            start(false);
    });
    connect(&session_, &JobSession::closed, this, &DesignService::cancel);
}

void DesignService::cancel() {
    asking_.forget();
    lesson_.forget();
    learning_.reset();
    // Engines of kinds that are only compared take memory, and the next job is of another.
    others_ = std::make_shared<Others>();
    kind_was_open_ = kindIsOpen();
}

bool DesignService::kindIsOpen() const {
    return session_.hasJob() && !session_.job().ticket.kind_seen;
}

// That nobody has looked inside changes nothing of the answer, so that no new one comes.
void DesignService::watchKind() {
    if (kindIsOpen() == kind_was_open_)
        return;
    kind_was_open_ = kindIsOpen();
    if (!kind_was_open_)
        emit kindsWeighed({});
    else if (kindIsInDoubt())
        start(false);
}

// Comparing kinds takes a while, so that it waits for a reason.
bool DesignService::kindIsInDoubt() const {
    constexpr std::size_t few_readings = 4;
    constexpr double hardly_fits = 0.2;
    const Answer& answer = diagnosis_.answer();
    if (answer.engine == nullptr || !session_.hasJob() || answer.readings.empty())
        return false;
    if (kindIsOpen())
        return true;
    const auto none =
        std::find_if(answer.ranking.parts.begin(), answer.ranking.parts.end(),
                     [](const PartSuspicion& part) { return part.kind == HypothesisKind::none_of_these; });
    return answer.readings.size() >= few_readings && none != answer.ranking.parts.end() &&
           none->probability >= hardly_fits;
}

bool DesignService::ask() {
    return start(true);
}

bool DesignService::start(bool with_habits) {
    const Answer& answer = diagnosis_.answer();
    if (answer.engine == nullptr)
        return false;
    // Copies: the shop may describe kinds of machine anew meanwhile.
    std::vector<Topology> alike;
    for (const Topology* topology : alike_from_outside(knowledge_, answer.engine->topology))
        alike.push_back(*topology);
    asking_.start(
        [with_habits, open = kindIsOpen(), &knowledge = knowledge_, others = others_,
         alike = std::move(alike), engine = answer.engine, beforehand = answer.beforehand,
         readings = answer.readings, teachers = answer.teachers](const TaskControl& control) {
            const auto stop = [&control] { return control.stopped(); };
            KnownDesign design{engine, {}, {}, readings, teachers, {}};
            if (with_habits)
                design.habits = engine->reasoner.design_known(beforehand, readings, {}, stop);
            const auto& impossible = engine->plan.impossible_habits;
            std::erase_if(design.habits, [&](const HabitKnown& habit) {
                return impossible[static_cast<std::size_t>(habit.habit)];
            });
            if (alike.size() > 1 && !stop())
                design.architectures =
                    architectures(knowledge, alike, *others, beforehand, readings, control);
            if (open)
                design.unsure_parts = unsure_parts(engine->topology, alike, design.architectures);
            return design;
        },
        [this, with_habits](const KnownDesign& design) {
            // The reason may have gone meanwhile.
            emit kindsWeighed(kindIsInDoubt() ? design : KnownDesign{});
            if (with_habits)
                emit known(design);
        },
        [this](double share) { emit progressed(share); });
    return true;
}

void DesignService::learnOrForget() {
    // What has left the bench stays as it left.
    if (!session_.hasJob() || session_.job().stage == JobStage::closed)
        return;
    const Job& job = session_.job();
    const std::string part = teaching_part(job);
    if (part.empty()) {
        if (!job.lesson)
            return;
        session_.amend([](Job& changed) { changed.lesson.reset(); });
        emit taught(session_.job());
        return;
    }
    const auto engine = diagnosis_.engineFor(job.ticket.topology);
    if (job.lesson || engine == nullptr || learning_ == job.id)
        return;
    learning_ = job.id;
    lesson_.start(
        [engine, beforehand = known_before(job), readings = job.readings, part](const TaskControl& control) {
            return engine->reasoner.lesson(beforehand, readings, part,
                                           [&control] { return control.stopped(); });
        },
        [this, job, part](const std::optional<DesignLesson>& lesson) {
            learning_.reset();
            keep(job, part, lesson);
        });
}

// The job may have gone on meanwhile: a lesson counts as long as the same part is proved.
void DesignService::keep(const Job& asked, const std::string& part,
                         const std::optional<DesignLesson>& lesson) {
    if (!lesson || !session_.hasJob() || !(session_.job().id == asked.id) ||
        teaching_part(session_.job()) != part)
        return;
    session_.amend([&](Job& changed) { changed.lesson = *lesson; });
    emit taught(session_.job());
}

}  // namespace eh
