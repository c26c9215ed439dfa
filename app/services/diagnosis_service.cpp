// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/diagnosis_service.h"

#include "core/planning/known_before.h"
#include "core/planning/likely_repairs.h"

namespace eh {

BenchConfiguration standing_of(const Job& job, const MachinePlan& plan) {
    BenchConfiguration stance = job.bench;
    if (plan.topology().find_port(stance.port) == nullptr)
        stance.port = plan.topology().ports.front().id;
    return stance;
}

DiagnosisService::DiagnosisService(const Knowledge& knowledge, const BenchCosts& costs, QObject* parent)
    : QObject(parent), knowledge_(knowledge), costs_(costs) {}

std::shared_ptr<Engine> DiagnosisService::engineFor(const std::string& topology_id) {
    if (const auto known = engines_.find(topology_id); known != engines_.end())
        return known->second;
    const Topology* topology = knowledge_.find_topology(topology_id);
    if (topology == nullptr)
        return nullptr;
    auto engine = std::make_shared<Engine>(knowledge_, *topology, prediction_options_);
    return engines_.emplace(topology_id, std::move(engine)).first->second;
}

std::shared_ptr<Engine> DiagnosisService::engineFor(const std::string& topology_id,
                                                    const DesignLesson& lesson) {
    const Topology* topology = knowledge_.find_topology(topology_id);
    if (topology == nullptr || lesson.sound_ohms.empty())
        return engineFor(topology_id);
    if (taught_engine_ == nullptr || taught_engine_->topology.id != topology_id ||
        taught_ohms_ != lesson.sound_ohms) {
        taught_ohms_ = lesson.sound_ohms;
        taught_engine_ = std::make_shared<Engine>(knowledge_, with_sound_ohms(*topology, taught_ohms_),
                                                  prediction_options_);
        taught_engine_->taught = true;
    }
    return taught_engine_;
}

NextOptions DiagnosisService::optionsFor(const Job& job) const {
    NextOptions options = next_options_;
    take_from_job(job, options);
    return options;
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
    taught_engine_.reset();
}

void DiagnosisService::ask(const Job& job) {
    Question question;
    question.teachers = teachers_of(job, taught_);
    std::vector<DesignLesson> lessons;
    lessons.reserve(question.teachers.size());
    for (const TaughtMachine& teacher : question.teachers)
        lessons.push_back(teacher.lesson);
    question.lesson = together(lessons);
    question.engine = engineFor(job.ticket.topology, question.lesson);
    question.options = optionsFor(job);
    question.rate_factors = shop_rates_.factors(knowledge_.catalogue);
    cancel();
    if (question.engine == nullptr) {
        emit refused(tr("This program knows no topology “%1”; choose one at intake.")
                         .arg(QString::fromStdString(job.ticket.topology)));
        return;
    }
    busy_ = true;
    task_.start(
        [this, question = std::move(question), job](const TaskControl& control) {
            work(question, job, control);
            return true;
        },
        [](bool) {}, [this](double share) { emit progressed(share); });
}

void DiagnosisService::work(const Question& question, const Job& job, const TaskControl& control) {
    const auto stale = [&control] { return control.stopped(); };
    if (stale())
        return;
    const auto report = [&control](double share) { (void)control.goes_on(share); };
    const std::shared_ptr<Engine>& engine = question.engine;
    if (cache_ && !engine->restored && !engine->taught) {
        // Nothing kept, or nothing usable: then it is worked out.
        (void)cache_->load(*engine->reasoner.store());
        engine->restored = true;
    }
    Answer answer;
    answer.engine = engine;
    answer.readings = job.readings;
    answer.rate_factors = question.rate_factors;
    answer.teachers = question.teachers;
    answer.beforehand = known_before(job);
    answer.beforehand.rate_factors = question.rate_factors;
    answer.beforehand.learnt = question.lesson.habits;
    auto suspects = engine->reasoner.weigh(answer.beforehand, job.readings, stale, report);
    if (!suspects)
        return;
    answer.table = suspects->table;
    answer.ranking = std::move(suspects->ranking);
    PredictionTable& table = *answer.table;
    const BenchConfiguration stance = standing_of(job, engine->plan);
    const auto refresh = [&](bool last) {
        answer.path = path_view(table, answer.ranking, stance);
        answer.next = next_acts(table, answer.ranking, job.readings, stance, costs_, question.options);
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
    if (cache_ && !all_known && !engine.taught)
        (void)cache_->save(*store);
}

SaidBefore DiagnosisService::saidOf(const Job& job, std::int64_t now_ms) const {
    const bool of_this_job = answer_.engine != nullptr && answer_.table != nullptr &&
                             answer_.engine->plan.topology().id == job.ticket.topology &&
                             answer_.readings == job.readings;
    if (!of_this_job)
        return {};
    return {now_ms, likely_repairs(answer_.ranking, *answer_.table)};
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
