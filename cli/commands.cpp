#include "cli/commands.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <iostream>
#include <iterator>

#include "cli/describe_json.h"
#include "core/base/files.h"
#include "core/base/random.h"
#include "core/job/job_json.h"
#include "report/handover_html.h"

namespace eh::cli {

using nlohmann::json;

namespace {

Result<const Topology*> topology_of(const Shop& shop, const std::string& id) {
    const Topology* topology = shop.knowledge.find_topology(id);
    if (topology != nullptr)
        return topology;
    std::string known;
    for (const Topology& t : shop.knowledge.topologies)
        known += (known.empty() ? "" : ", ") + t.id;
    return refused("there is no topology “" + id + "”; known are: " + known, "ticket: topology");
}

json refused_readings(const Job& job, const Topology& topology) {
    json list = json::array();
    for (const Reading& reading : job.readings) {
        if (const Outcome check = check_reading(reading, topology); !check)
            list.push_back({{"reading", reading.id}, {"reason", check.error().message}});
    }
    return list;
}

json ohms_json(double ohms) {
    if (std::isnan(ohms))
        return nullptr;
    return std::isfinite(ohms) ? json(ohms) : json("OL");
}

json report_json(const EvaluationReport& report) {
    json bins = json::array();
    for (const CalibrationBin& bin : report.bins) {
        if (bin.machines > 0)
            bins.push_back({{"machines", bin.machines}, {"stated", bin.stated}, {"right", bin.right}});
    }
    json faults = json::object();
    for (const auto& [fault, score] : report.by_fault)
        faults[fault] = {{"machines", score.machines}, {"right", score.right}};
    json cases = json::array();
    for (const EvaluationCase& one : report.cases)
        cases.push_back({{"truth", one.truth},
                         {"named", one.named},
                         {"stated", one.stated},
                         {"right", one.right},
                         {"minutes", one.minutes},
                         {"course", one.course}});
    const double count = std::max(1, report.machines);
    json answer{{"machines", report.machines},
                {"right_first", report.right_first / count},
                {"right_in_two", report.right_in_two / count},
                {"sure_and_wrong", report.sure_and_wrong / count},
                {"calibration_error", report.calibration_error},
                {"mean_minutes", report.mean_minutes},
                {"mean_readings", report.mean_readings},
                {"calibration", std::move(bins)},
                {"by_fault", std::move(faults)}};
    if (!cases.empty())
        answer["cases"] = std::move(cases);
    return answer;
}

}  // namespace

Result<Shop> load_shop() {
    auto knowledge = load_knowledge(default_data_directory());
    if (!knowledge)
        return knowledge.error();
    auto costs = load_costs(default_data_directory());
    if (!costs)
        return costs.error();
    return Shop{std::move(knowledge).value(), *costs};
}

Result<Job> read_job(const std::string& file) {
    if (file == "-")
        return parse_job({std::istreambuf_iterator<char>(std::cin), std::istreambuf_iterator<char>()},
                         "standard input");
    const auto text = read_text_file(file);
    return text ? parse_job(*text, file) : Result<Job>(text.error());
}

Result<json> diagnose(const Shop& shop, const Job& job) {
    const auto topology = topology_of(shop, job.ticket.topology);
    if (!topology)
        return topology.error();
    const MachinePlan plan(shop.knowledge, **topology);
    PredictionTable table(plan, make_hypotheses(plan, job.ticket.facts));
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), job.readings);
    json answer = to_json(ranking, table, job.readings);
    answer["refused_readings"] = refused_readings(job, **topology);
    return answer;
}

Result<json> next(const Shop& shop, const Job& job, std::size_t most) {
    const auto topology = topology_of(shop, job.ticket.topology);
    if (!topology)
        return topology.error();
    const MachinePlan plan(shop.knowledge, **topology);
    PredictionTable table(plan, make_hypotheses(plan, job.ticket.facts));
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), job.readings);
    BenchConfiguration now = job.bench;
    if ((*topology)->find_port(now.port) == nullptr)
        now.port = (*topology)->ports.front().id;
    prepare_candidates(table, now);
    NextOptions options;
    options.most = most;
    const NextStep step = next_acts(table, ranking, job.readings, now, shop.costs, options);
    json acts = json::array();
    for (const NextAct& act : step.acts)
        acts.push_back(to_json(act, plan));
    json answer{{"repair_due", step.repair_due}, {"acts", std::move(acts)}};
    if (std::isfinite(step.repair_now_minutes))
        answer["repair_now_minutes"] = step.repair_now_minutes;
    return answer;
}

Result<json> simulate(const Shop& shop, const SimulateOptions& options) {
    const auto topology = topology_of(shop, options.topology);
    if (!topology)
        return topology.error();
    const MachinePlan plan(shop.knowledge, **topology);
    for (const FaultInstance& fault : options.faults) {
        if (shop.knowledge.catalogue.find(fault.fault) == nullptr)
            return refused("there is no fault “" + fault.fault + "”", "--fault");
        if (plan.find_block(fault.block) < 0)
            return refused("this machine has no part “" + fault.block + "”", "--fault");
    }
    BenchConfiguration configuration = options.configuration;
    if (configuration.port.empty())
        configuration.port = (*topology)->ports.front().id;
    if (plan.port_index(configuration.port) < 0)
        return refused("this machine has no port “" + configuration.port + "”", "--port");
    PartDraw draw;
    draw.seed = options.seed;
    draw.typical = options.seed == 0;
    draw.severity = Random(options.seed).uniform();
    MachineModel model(plan, options.faults, draw);
    DcSolver solver;
    const PoweredView view = look_at(model, configuration, solver);
    json nets = json::object();
    json ohms = json::object();
    for (std::size_t n = 0; n < (*topology)->nets.size(); ++n)
        nets[(*topology)->nets[n].id] = view.net_volts[n];
    json warm = json::object();
    constexpr double warm_kelvin = 2.0;
    for (std::size_t b = 0; b < (*topology)->blocks.size(); ++b) {
        if (view.rise_kelvin[b] > warm_kelvin)
            warm[plan.blocks[b].id] = view.rise_kelvin[b];
    }
    json answer{{"configuration", to_json(configuration)},
                {"solved", view.valid},
                {"meter", to_json(view.meter)},
                {"volts", std::move(nets)},
                {"rise_kelvin", std::move(warm)},
                {"says", to_text(view.firmware)}};
    if (options.rate_hz > 0.0) {
        const Course course = run_course(model, configuration, solver);
        json stream = json::array();
        for (const MeterSample& sample : meter_stream(course, 0.0, options.seconds, options.rate_hz))
            stream.push_back({sample.t_s, sample.volts, sample.amps});
        answer["stream"] = std::move(stream);
    }
    model.configure(electrical_part(unpowered(configuration)));
    for (std::size_t n = 0; n < (*topology)->nets.size(); ++n)
        ohms[(*topology)->nets[n].id] = ohms_json(model.ohms_to_ground(static_cast<int>(n), solver));
    answer["ohms"] = std::move(ohms);
    return answer;
}

Result<json> evaluate(const Shop& shop, const std::string& topology_id, const EvaluationOptions& options) {
    if (!topology_id.empty()) {
        if (const auto topology = topology_of(shop, topology_id); !topology)
            return topology.error();
    }
    json answer = json::object();
    for (const Topology& topology : shop.knowledge.topologies) {
        if (!topology_id.empty() && topology.id != topology_id)
            continue;
        const MachinePlan plan(shop.knowledge, topology);
        PredictionTable table(plan, make_hypotheses(plan, {}));
        const auto progress = [&](double share) {
            std::fprintf(stderr, "\r%s: %3.0f %%", topology.id.c_str(), share * 100.0);
        };
        answer[topology.id] = report_json(evaluate(table, shop.costs, options, {}, progress));
        std::fprintf(stderr, "\n");
    }
    return answer;
}

Result<std::string> report(const Shop& shop, const Job& job, const std::string& shop_name) {
    if (const auto topology = topology_of(shop, job.ticket.topology); !topology)
        return topology.error();
    return handover_html(job, shop.knowledge, {shop_name});
}

}  // namespace eh::cli
