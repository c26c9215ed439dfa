// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <iostream>
#include <iterator>

#include "cli/describe_json.h"
#include "cli/staged_machine.h"
#include "core/base/files.h"
#include "core/inference/intake_facts.h"
#include "core/job/design_lesson_json.h"
#include "core/job/job_schema.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/planning/known_before.h"
#include "core/planning/why_first.h"
#include "report/handover_html.h"

namespace eh::cli {

using nlohmann::json;

namespace {

json refused_readings(const Job& job, const MachinePlan& plan) {
    json list = json::array();
    for (const Reading& reading : job.readings) {
        if (const Outcome check = check_reading(reading, plan); !check)
            list.push_back({{"reading", reading.id}, {"reason", check.error().message}});
    }
    return list;
}

void add_dangers(const std::vector<DangerFound>& dangers, json& answer) {
    for (const DangerFound& found : dangers)
        answer["dangers"].push_back({{"danger", found.danger->id},
                                     {"place", found.place},
                                     {"port", found.port},
                                     {"reason", found.danger->reason},
                                     {"instead", found.danger->instead}});
}

json ohms_json(double ohms) {
    if (std::isnan(ohms))
        return nullptr;
    return std::isfinite(ohms) ? json(ohms) : json("OL");
}

json score_json(const PlayScore& score) {
    json bins = json::array();
    for (const CalibrationBin& bin : score.bins) {
        if (bin.machines > 0)
            bins.push_back({{"machines", bin.machines}, {"stated", bin.stated}, {"right", bin.right}});
    }
    const double count = std::max(1, score.machines);
    return {{"machines", score.machines},
            {"right_first", score.right_first / count},
            {"right_in_two", score.right_in_two / count},
            {"sure_and_wrong", score.sure_and_wrong / count},
            {"sure_of_none_of_these_and_wrong", score.sure_of_none / count},
            {"none_of_these_leads", score.none_leads / count},
            {"calibration_error", score.calibration_error},
            {"mean_minutes", score.mean_minutes},
            {"mean_readings", score.mean_readings},
            {"calibration", std::move(bins)}};
}

json scores_json(const std::map<std::string, FaultScore>& scores) {
    json list = json::object();
    for (const auto& [name, score] : scores)
        list[name] = {{"machines", score.machines}, {"right", score.right}};
    return list;
}

json report_json(const EvaluationReport& report) {
    json answer = score_json(report.ours);
    if (report.oracle.machines > 0)
        answer["oracle"] = score_json(report.oracle);
    for (std::size_t o = 0; o < report.orders.size(); ++o) {
        if (report.orders[o].machines > 0)
            answer["orders"][to_text(static_cast<BenchOrder>(o))] = score_json(report.orders[o]);
    }
    answer["by_fault"] = scores_json(report.by_fault);
    answer["by_number_of_faults"] = scores_json(report.by_number);
    for (const FaultScore& after : report.by_readings)
        answer["right_by_readings"].push_back(static_cast<double>(after.right) / std::max(1, after.machines));
    for (const EvaluationCase& one : report.cases)
        answer["cases"].push_back({{"truth", one.truth},
                                   {"named", one.named},
                                   {"then", one.then},
                                   {"stated", one.stated},
                                   {"right", one.right},
                                   {"right_in_two", one.right_in_two},
                                   {"minutes", one.minutes},
                                   {"facts", one.facts},
                                   {"course", one.course}});
    return answer;
}

void add(std::map<std::string, FaultScore>& sum, const std::map<std::string, FaultScore>& more) {
    for (const auto& [name, score] : more) {
        sum[name].machines += score.machines;
        sum[name].right += score.right;
    }
}

// All topologies together.
void add(EvaluationReport& sum, const EvaluationReport& report) {
    sum.ours = joined(sum.ours, report.ours);
    sum.oracle = joined(sum.oracle, report.oracle);
    for (std::size_t o = 0; o < sum.orders.size(); ++o)
        sum.orders[o] = joined(sum.orders[o], report.orders[o]);
    add(sum.by_fault, report.by_fault);
    add(sum.by_number, report.by_number);
    sum.by_readings.resize(std::max(sum.by_readings.size(), report.by_readings.size()));
    for (std::size_t n = 0; n < report.by_readings.size(); ++n) {
        sum.by_readings[n].machines += report.by_readings[n].machines;
        sum.by_readings[n].right += report.by_readings[n].right;
    }
}

}  // namespace

Result<Shop> load_shop() {
    auto knowledge = load_knowledge(default_data_directory());
    if (!knowledge)
        return knowledge.error();
    auto costs = load_costs(default_data_directory());
    if (!costs)
        return costs.error();
    const auto advice_file = default_data_directory() / "advice.json";
    const auto text = read_text_file(advice_file);
    if (!text)
        return text.error();
    auto advice = parse_advice(*text, "advice.json");
    if (!advice)
        return advice.error();
    return Shop{std::move(knowledge).value(), *costs, std::move(advice).value()};
}

Result<std::string> read_input(const std::string& file) {
    if (file == "-")
        return std::string(std::istreambuf_iterator<char>(std::cin), std::istreambuf_iterator<char>());
    return read_text_file(file);
}

Result<Job> read_job(const std::string& file) {
    const auto text = read_input(file);
    if (!text)
        return text.error();
    const auto schema = JobSchema::load(default_data_directory());
    return schema ? admit_job(*text, file == "-" ? "standard input" : file, *schema)
                  : Result<Job>(schema.error());
}

Result<DesignLesson> read_lessons(const std::vector<std::string>& files) {
    std::vector<DesignLesson> lessons;
    for (const std::string& file : files) {
        const auto job = read_job(file);
        if (!job)
            return job.error();
        if (!job->lesson)
            return refused("this job taught nothing of its kind of machine yet", file);
        lessons.push_back(*job->lesson);
    }
    return together(lessons);
}

MachineUnderTest::MachineUnderTest(const Shop& shop, const Topology& topology)
    : shop_(&shop),
      topology_(with_sound_ohms(topology, shop.learnt.sound_ohms)),
      plan_(shop.knowledge, topology_),
      reasoner_(std::make_shared<PredictionStore>(plan_)) {}

Beforehand MachineUnderTest::beforehand(const Job& job) const {
    Beforehand known = known_before(job);
    known.learnt = shop_->learnt.habits;
    return known;
}

Suspects MachineUnderTest::suspects(const Job& job) const {
    return reasoner_.weigh(beforehand(job), job.readings).value();
}

json MachineUnderTest::design(const Job& job, const std::string& proved) const {
    const auto known = reasoner_.design_known(beforehand(job), job.readings, proved);
    const DesignVariety& variety = shop_->knowledge.variety;
    json habits = json::array();
    for (const HabitKnown& habit : known) {
        const auto h = static_cast<std::size_t>(habit.habit);
        if (plan_.impossible_habits[h])
            continue;
        const HabitWords& words = variety.habit_words[h];
        json one{{"habit", to_text(habit.habit)},
                 {"met", habit.met},
                 {"now", habit.now},
                 {"says", habit.now >= 0.5 ? words.has : words.has_not}};
        if (habit.since)
            one["since"] = *habit.since;
        if (habit.because)
            one["because"] = *habit.because;
        habits.push_back(std::move(one));
    }
    json answer{{"habits", std::move(habits)}};
    if (!proved.empty())
        answer["lesson"] = write_lesson(reasoner_.lesson(beforehand(job), job.readings, proved).value());
    return answer;
}

json MachineUnderTest::diagnosis(const Job& job, const Suspects& suspects, bool explanations) const {
    json answer = to_json(suspects.ranking, *suspects.table, job.readings);
    if (explanations)
        answer["explanations"] = explanations_to_json(suspects.ranking, *suspects.table, job.readings);
    answer["refused_readings"] = refused_readings(job, plan_);
    if (const std::string remark = unknown_facts_remark(shop_->knowledge.catalogue, facts_asked(job.ticket));
        !remark.empty())
        answer["remarks"] = json::array({remark});
    return answer;
}

BenchConfiguration MachineUnderTest::standing(const Job& job) const {
    BenchConfiguration now = job.bench;
    if (plan_.topology().find_port(now.port) == nullptr)
        now.port = plan_.topology().ports.front().id;
    return now;
}

NextOptions MachineUnderTest::next_options(const Job& job, std::size_t most) const {
    NextOptions options;
    options.most = most;
    take_from_job(job, options);
    for (const ReadingKind kind : shop_->not_owned)
        options.instruments.erase(std::remove(options.instruments.begin(), options.instruments.end(), kind),
                                  options.instruments.end());
    return options;
}

json MachineUnderTest::hour(const Job& job, const Suspects& suspects, double minutes) const {
    HourOptions options;
    options.minutes = minutes;
    const auto plan = plan_hour(*suspects.table, suspects.ranking, job.readings, standing(job), shop_->costs,
                                next_options(job, NextOptions{}.most), options);
    json answer = to_json(*plan, plan_);
    add_dangers(plan->dangers, answer);
    return answer;
}

json MachineUnderTest::next(const Job& job, const Suspects& suspects, std::size_t most) const {
    const BenchConfiguration now = standing(job);
    prepare_candidates(*suspects.table, suspects.ranking, job.readings, now);
    const NextOptions options = next_options(job, most);
    const NextStep step =
        next_acts(*suspects.table, suspects.ranking, job.readings, now, shop_->costs, options);
    json acts = json::array();
    for (const NextAct& act : step.acts)
        acts.push_back(to_json(act, plan_));
    json answer{{"repair_due", step.repair_due},
                {"all_put_right", step.all_put_right},
                {"why", why_first(step, suspects.table->plan())},
                {"acts", std::move(acts)}};
    if (step.question)
        answer["ask"] = to_json(*step.question);
    if (step.survey)
        answer["survey"] = to_json(*step.survey);
    if (step.parking)
        answer["order"] = {{"part", step.parking->block}, {"minutes", step.parking->minutes}};
    add_dangers(step.dangers, answer);
    if (std::isfinite(step.repair_now_minutes))
        answer["repair_now_minutes"] = step.repair_now_minutes;
    return answer;
}

Result<json> diagnose(const Shop& shop, const Job& job, bool explanations) {
    const auto topology = topology_of(shop, job.ticket.topology);
    if (!topology)
        return topology.error();
    const MachineUnderTest machine(shop, **topology);
    return machine.diagnosis(job, machine.suspects(job), explanations);
}

Result<json> design(const Shop& shop, const Job& job, const std::string& proved) {
    const auto topology = topology_of(shop, job.ticket.topology);
    if (!topology)
        return topology.error();
    const auto& blocks = (*topology)->blocks;
    const bool there =
        std::any_of(blocks.begin(), blocks.end(), [&](const Block& block) { return block.id == proved; });
    if (!proved.empty() && !there)
        return refused("there is no part “" + proved + "” in this kind of machine", "proved");
    return MachineUnderTest(shop, **topology).design(job, proved);
}

Result<json> architectures(const Shop& shop, const Job& job) {
    const auto topology = topology_of(shop, job.ticket.topology);
    if (!topology)
        return topology.error();
    std::vector<std::unique_ptr<FittedPlan>> plans;
    std::vector<std::unique_ptr<Reasoner>> reasoners;
    std::vector<ArchitectureCandidate> candidates;
    for (const Topology* alike : alike_from_outside(shop.knowledge, **topology)) {
        plans.push_back(std::make_unique<FittedPlan>(shop.knowledge, *alike));
        reasoners.push_back(std::make_unique<Reasoner>(std::make_shared<PredictionStore>(*plans.back())));
        candidates.push_back({alike, reasoners.back().get()});
    }
    const auto shares = weigh_architectures(candidates, known_before(job), job.readings).value();
    json list = json::array();
    for (const ArchitectureShare& share : shares)
        list.push_back({{"topology", share.topology},
                        {"title", shop.knowledge.find_topology(share.topology)->title},
                        {"met", share.met},
                        {"now", share.now}});
    return json{{"architectures", std::move(list)}};
}

Result<json> next(const Shop& shop, const Job& job, std::size_t most) {
    const auto topology = topology_of(shop, job.ticket.topology);
    if (!topology)
        return topology.error();
    const MachineUnderTest machine(shop, **topology);
    return machine.next(job, machine.suspects(job), most);
}

Result<json> hour(const Shop& shop, const Job& job, double minutes) {
    const auto topology = topology_of(shop, job.ticket.topology);
    if (!topology)
        return topology.error();
    const MachineUnderTest machine(shop, **topology);
    return machine.hour(job, machine.suspects(job), minutes);
}

Result<json> simulate(const Shop& shop, const SimulateOptions& options) {
    auto staged = stage_machine(shop, options);
    if (!staged)
        return staged.error();
    const MachinePlan& plan = (*staged)->plan;
    const Topology& topology = plan.topology();
    const BenchConfiguration& configuration = (*staged)->configuration;
    MachineModel& model = (*staged)->model;
    DcSolver solver;
    const PoweredView view = look_at(model, configuration, solver);
    json nets = json::object();
    json ohms = json::object();
    for (std::size_t n = 0; n < topology.nets.size(); ++n)
        nets[topology.nets[n].id] = view.net_volts[n];
    json warm = json::object();
    constexpr double warm_kelvin = 2.0;
    for (std::size_t b = 0; b < topology.blocks.size(); ++b) {
        if (view.rise_kelvin[b] > warm_kelvin)
            warm[plan.blocks[b].id] = view.rise_kelvin[b];
    }
    json answer{{"configuration", to_json(configuration)},
                {"solved", view.valid},
                {"meter", to_json(view.meter)},
                {"volts", std::move(nets)},
                {"rise_kelvin", std::move(warm)},
                {"says", to_text(view.firmware)},
                {"talk", to_text(view.talk)}};
    if (options.rate_hz > 0.0) {
        const Course course = run_course(model, configuration, solver);
        json stream = json::array();
        for (const MeterSample& sample : meter_stream(course, 0.0, options.seconds, options.rate_hz))
            stream.push_back({sample.t_s, sample.volts, sample.amps});
        answer["stream"] = std::move(stream);
    }
    model.configure(electrical_part(unpowered(configuration)));
    for (std::size_t n = 0; n < topology.nets.size(); ++n)
        ohms[topology.nets[n].id] = ohms_json(model.ohms_to_ground(static_cast<int>(n), solver));
    answer["ohms"] = std::move(ohms);
    return answer;
}

namespace {

// One world: every topology, or the one that is named.
json evaluate_world(const Shop& shop, const std::string& topology_id, const EvaluationOptions& options) {
    json by_topology = json::object();
    EvaluationReport all;
    for (const Topology& topology : shop.knowledge.topologies) {
        if (!topology_id.empty() && topology.id != topology_id)
            continue;
        const auto progress = [&](double share) {
            std::fprintf(stderr, "\r%s: %3.0f %%", topology.id.c_str(), share * 100.0);
        };
        const EvaluationReport report = evaluate(shop.knowledge, topology, shop.costs, options, {}, progress);
        std::fprintf(stderr, "\n");
        by_topology[topology.id] = report_json(report);
        add(all, report);
    }
    return json{{"all", report_json(all)}, {"topologies", std::move(by_topology)}};
}

}  // namespace

Result<json> evaluate(const Shop& shop, const std::string& topology_id, const EvaluationOptions& options,
                      EvaluationWorld world) {
    if (!topology_id.empty()) {
        if (const auto topology = topology_of(shop, topology_id); !topology)
            return topology.error();
    }
    json answer = json::object();
    if (world != EvaluationWorld::strangers)
        answer = evaluate_world(shop, topology_id, options);
    if (world != EvaluationWorld::home) {
        EvaluationOptions strangers = options;
        strangers.perturbation = Perturbation::strangers();
        answer["strangers"] = evaluate_world(shop, topology_id, strangers);
    }
    return answer;
}

Result<std::string> report(const Shop& shop, const Job& job, const std::string& shop_name,
                           SheetLength length) {
    if (const auto topology = topology_of(shop, job.ticket.topology); !topology)
        return topology.error();
    return handover_html(job, shop.knowledge, {shop_name, {}, length, &shop.advice});
}

}  // namespace eh::cli
