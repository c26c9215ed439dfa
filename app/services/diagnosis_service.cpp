// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/diagnosis_service.h"

namespace eh {

DiagnosisService::DiagnosisService(const Knowledge& knowledge, const BenchCosts& costs, QObject* parent)
    : QObject(parent), knowledge_(knowledge), costs_(costs) {}

std::shared_ptr<Engine> DiagnosisService::engineFor(const std::string& topology_id) {
    if (const auto known = engines_.find(topology_id); known != engines_.end())
        return known->second;
    const Topology* topology = knowledge_.find_topology(topology_id);
    if (topology == nullptr)
        return nullptr;
    return engines_.emplace(topology_id, std::make_shared<Engine>(knowledge_, *topology)).first->second;
}

void DiagnosisService::cancel() {
    task_.forget();
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
    cancel();
    if (engine == nullptr) {
        emit refused(tr("This program knows no topology “%1”; choose one at intake.")
                         .arg(QString::fromStdString(job.ticket.topology)));
        return;
    }
    busy_ = true;
    task_.start(
        [this, engine, job, options = next_options_,
         factors = shop_rates_.factors(knowledge_.catalogue)](const TaskControl& control) {
            work(engine, job, options, factors, control);
            return true;
        },
        [](bool) {}, [this](double share) { emit progressed(share); });
}

void DiagnosisService::work(const std::shared_ptr<Engine>& engine, const Job& job, const NextOptions& options,
                            const std::map<std::string, double>& rate_factors, const TaskControl& control) {
    const auto stale = [&control] { return control.stopped(); };
    if (stale())
        return;
    const auto report = [&control](double share) { (void)control.goes_on(share); };
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
        if (act.kind == Work::reflow)
            of_job.reflowed.push_back(act.block);
    }
    const auto refresh = [&](bool last) {
        answer.path = path_view(table, answer.ranking, stance);
        answer.next = next_acts(table, answer.ranking, job.readings, stance, costs_, of_job);
        answer.next_complete = last;
        deliver(control, answer, last);
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

void DiagnosisService::deliver(const TaskControl& control, const Answer& answer, bool last) {
    control.post([this, answer, last] {
        answer_ = answer;
        if (last)
            busy_ = false;
        emit answered();
        if (last)
            emit finished();
    });
}

}  // namespace eh
