// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/diagnosis_service.h"

#include <QtConcurrent/QtConcurrentRun>

namespace eh {

DiagnosisService::DiagnosisService(const Knowledge& knowledge, const BenchCosts& costs, QObject* parent)
    : QObject(parent), knowledge_(knowledge), costs_(costs) {
    pool_.setMaxThreadCount(1);
}

DiagnosisService::~DiagnosisService() {
    cancel();
    pool_.waitForDone();
}

std::shared_ptr<Engine> DiagnosisService::engineFor(const std::string& topology_id) {
    if (const auto known = engines_.find(topology_id); known != engines_.end())
        return known->second;
    const Topology* topology = knowledge_.find_topology(topology_id);
    if (topology == nullptr)
        return nullptr;
    return engines_.emplace(topology_id, std::make_shared<Engine>(knowledge_, *topology)).first->second;
}

void DiagnosisService::cancel() {
    ++generation_;
    busy_ = false;
}

void DiagnosisService::clear() {
    cancel();
    answer_ = {};
    emit answered();
}

void DiagnosisService::forget(const std::string& topology_id) {
    cancel();
    engines_.erase(topology_id);
}

void DiagnosisService::ask(const Job& job) {
    const auto engine = engineFor(job.ticket.topology);
    const int generation = ++generation_;
    if (engine == nullptr) {
        busy_ = false;
        emit refused(tr("This program knows no topology “%1”; choose one at intake.")
                         .arg(QString::fromStdString(job.ticket.topology)));
        return;
    }
    busy_ = true;
    (void)QtConcurrent::run(&pool_, [this, engine, job, options = next_options_,
                                     factors = shop_rates_.factors(knowledge_.catalogue),
                                     generation] { work(engine, job, options, factors, generation); });
}

void DiagnosisService::work(const std::shared_ptr<Engine>& engine, const Job& job, const NextOptions& options,
                            const std::map<std::string, double>& rate_factors, int generation) {
    const auto stale = [this, generation] { return generation_ != generation; };
    if (stale())
        return;
    const auto report = [this, generation](double share) {
        QMetaObject::invokeMethod(this, [this, generation, share] {
            if (generation == generation_)
                emit progressed(share);
        });
    };
    if (cache_ && !engine->restored) {
        // Nothing kept, or nothing usable: then it is worked out.
        (void)cache_->load(*engine->reasoner.store());
        engine->restored = true;
    }
    Answer answer;
    answer.engine = engine;
    answer.readings = job.readings;
    answer.rate_factors = rate_factors;
    auto suspects = engine->reasoner.weigh({job.ticket.facts, job.bench.replaced, rate_factors}, job.readings,
                                           stale, report);
    if (!suspects)
        return;
    answer.table = suspects->table;
    answer.ranking = std::move(suspects->ranking);
    PredictionTable& table = *answer.table;
    BenchConfiguration stance = job.bench;
    if (engine->plan.topology().find_port(stance.port) == nullptr)
        stance.port = engine->plan.topology().ports.front().id;
    NextOptions of_job = options;
    for (const Act& act : job.acts) {
        if (act.kind == "reflow")
            of_job.reflowed.push_back(act.block);
    }
    const auto refresh = [&](bool last) {
        answer.path = path_view(table, answer.ranking, stance);
        answer.next = next_acts(table, answer.ranking, job.readings, stance, costs_, of_job);
        answer.next_complete = last;
        deliver(generation, answer, last);
    };
    refresh(false);
    // The path first, since it is looked at; then what the next acts are chosen from.
    if (table.powered(stance, stale, report) == nullptr)
        return;
    refresh(false);
    if (!prepare_candidates(table, answer.ranking, job.readings, stance, stale, report))
        return;
    refresh(true);
    completeTables(*engine, stale);
}

void DiagnosisService::completeTables(Engine& engine, const std::function<bool()>& stale) const {
    if (engine.complete)
        return;
    const auto& store = engine.reasoner.store();
    PredictionTable table(store, make_hypotheses(engine.plan, {}));
    bool all_known = true;
    for (const BenchConfiguration& configuration : usual_configurations(engine.plan)) {
        all_known = all_known && table.known_powered(configuration) != nullptr;
        if (table.powered(configuration, stale) == nullptr)
            return;
    }
    engine.complete = true;
    // What cannot be kept is worked out again next time.
    if (cache_ && !all_known)
        (void)cache_->save(*store);
}

void DiagnosisService::deliver(int generation, const Answer& answer, bool last) {
    QMetaObject::invokeMethod(this, [this, generation, answer, last] {
        if (generation != generation_)
            return;
        answer_ = answer;
        if (last)
            busy_ = false;
        emit answered();
        if (last)
            emit finished();
    });
}

}  // namespace eh
