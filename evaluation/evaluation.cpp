// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/evaluation.h"

#include <algorithm>
#include <cmath>
#include <memory>

#include "core/base/text.h"
#include "core/inference/complaint.h"
#include "core/inference/reasoner.h"
#include "core/machine/simulation/known_ohms.h"
#include "evaluation/drawn_machines.h"
#include "evaluation/other_makers.h"
#include "evaluation/simulated_bench.h"

namespace eh {
namespace {

constexpr double sure = 0.95;

// Work on a part, or one of the other kinds of finding.
struct NamedRepair {
    HypothesisKind kind = HypothesisKind::fault;
    FaultInstance fault;
    std::string title;
};

struct Played {
    std::vector<NamedRepair> named;    // most suspected first
    std::vector<NamedRepair> leading;  // what led, by number of readings
    double stated = 0.0;
    double minutes = 0.0;
    std::vector<Reading> readings;
};

NamedRepair named_repair(const Suspects& suspects, const PartSuspicion& part) {
    const Hypothesis& leading =
        suspects.table->hypotheses()[suspects.ranking.suspicions[part.leading_hypothesis].hypothesis];
    NamedRepair named{part.kind, {}, hypothesis_title(leading, suspects.table->plan())};
    if (part.kind == HypothesisKind::fault)
        named.fault = fault_to_remedy(suspects.ranking, *suspects.table, part.block, part.work);
    return named;
}

bool same_place(const Reading& reading, const NextAct& act) {
    return reading.kind() == act.reading && reading.place() == act.place &&
           electrical_part(reading.configuration) == electrical_part(act.configuration);
}

// Works on one machine until a repair is due. With an order its readings are taken one after the other, else
// those that tell most.
Played play(const Reasoner& reasoner, const BenchCosts& costs, const DrawnMachine& machine,
            SimulatedBench& bench, const NextOptions& options, int most_readings,
            const std::vector<NextAct>* order) {
    const MachinePlan& plan = reasoner.store()->plan();
    BenchConfiguration now = as_brought_in(plan.topology(), {});
    Played played;
    std::vector<Reading>& readings = played.readings;
    Suspects suspects;
    std::size_t in_order = 0;
    for (;;) {
        suspects = *reasoner.weigh({machine.facts, {}}, readings);
        prepare_candidates(*suspects.table, suspects.ranking, readings, now);
        const NextStep step = next_acts(*suspects.table, suspects.ranking, readings, now, costs, options);
        const PartSuspicion& first = suspects.ranking.parts.front();
        played.leading.push_back(named_repair(suspects, first));
        const bool settled =
            step.all_put_right ||
            (first.kind == HypothesisKind::nothing_wrong &&
             first.probability >= costs.repair_due_probability) ||
            (first.kind == HypothesisKind::none_of_these && first.probability >= costs.give_up_probability);
        const bool exhausted = order == nullptr ? step.acts.empty() : in_order == order->size();
        if (step.repair_due || settled || exhausted || static_cast<int>(readings.size()) >= most_readings)
            break;
        NextAct act = order == nullptr ? step.acts.front() : (*order)[in_order++];
        if (order != nullptr) {
            const bool known = std::any_of(readings.begin(), readings.end(),
                                           [&](const Reading& r) { return same_place(r, act); });
            if (known)
                continue;
            act.minutes = setup_minutes(now, act.configuration, plan, costs) +
                          costs.reading_minutes[static_cast<std::size_t>(act.reading)];
        }
        played.minutes += act.minutes;
        readings.push_back(bench.take(act));
        readings.back().id = "r" + integer_text(readings.size());
        now = act.configuration;
        // Parts taken off for a measurement go back before power returns, those of the shop come out.
        if (act.reading == ReadingKind::net_ohms)
            now.removed.clear();
        now.lent.clear();
        now.second_instruments = false;
    }
    for (const PartSuspicion& part : suspects.ranking.parts)
        played.named.push_back(named_repair(suspects, part));
    played.stated = suspects.ranking.parts.front().probability;
    return played;
}

// Whether the work named puts one of the machine's faults right.
bool is_right(const NamedRepair& named, const DrawnMachine& machine, bool unknown,
              const FaultCatalogue& catalogue) {
    if (unknown)
        return named.kind == HypothesisKind::none_of_these;
    if (named.kind != HypothesisKind::fault)
        return named.kind == HypothesisKind::nothing_wrong && machine.faults.empty();
    const Work work = catalogue.find(named.fault.fault)->remedies.front().act;
    return std::any_of(machine.faults.begin(), machine.faults.end(), [&](const FaultInstance& fault) {
        const auto& remedies = catalogue.find(fault.fault)->remedies;
        return fault.block == named.fault.block &&
               std::any_of(remedies.begin(), remedies.end(),
                           [&](const Remedy& remedy) { return does_the_work_of(work, remedy.act); });
    });
}

bool is_right_at(const Played& played, std::size_t rank, const DrawnMachine& machine, bool unknown,
                 const FaultCatalogue& catalogue) {
    return played.named.size() > rank && is_right(played.named[rank], machine, unknown, catalogue);
}

// Whether the part named has a fault, whatever the work.
bool right_part(const NamedRepair& named, const DrawnMachine& machine, bool unknown) {
    if (unknown)
        return named.kind == HypothesisKind::none_of_these;
    if (named.kind != HypothesisKind::fault)
        return named.kind == HypothesisKind::nothing_wrong && machine.faults.empty();
    return std::any_of(machine.faults.begin(), machine.faults.end(),
                       [&](const FaultInstance& fault) { return fault.block == named.fault.block; });
}

class Scorer {
  public:
    void add(const Played& played, const DrawnMachine& machine, bool unknown,
             const FaultCatalogue& catalogue) {
        const auto right = [&](std::size_t rank) {
            return is_right_at(played, rank, machine, unknown, catalogue);
        };
        const bool first = right(0);
        ++score_.machines;
        score_.right_first += first ? 1 : 0;
        score_.right_in_two += first || right(1) ? 1 : 0;
        if (played.stated > sure && !right_part(played.named.front(), machine, unknown)) {
            const bool none = played.named.front().kind == HypothesisKind::none_of_these;
            ++(none ? score_.sure_of_none : score_.sure_and_wrong);
        }
        score_.none_leads += played.named.front().kind == HypothesisKind::none_of_these ? 1 : 0;
        score_.mean_minutes += played.minutes;
        score_.mean_readings += static_cast<double>(played.readings.size());
        auto& bin = score_.bins[static_cast<std::size_t>(std::min(9.0, played.stated * 10.0))];
        ++bin.machines;
        bin.stated += played.stated;
        bin.right += first ? 1.0 : 0.0;
    }

    PlayScore finish() {
        const double count = std::max(1, score_.machines);
        score_.mean_minutes /= count;
        score_.mean_readings /= count;
        for (CalibrationBin& bin : score_.bins) {
            if (bin.machines == 0)
                continue;
            bin.stated /= bin.machines;
            bin.right /= bin.machines;
            score_.calibration_error += std::abs(bin.stated - bin.right) * bin.machines / count;
        }
        return score_;
    }

  private:
    PlayScore score_;
};

// Everything that was played on one machine.
struct MachinePlays {
    Played ours;
    Played oracle;
    std::array<Played, bench_order_count> orders;
};

std::string number_word(std::size_t faults) {
    switch (faults) {
        case 0:
            return "nothing wrong";
        case 1:
            return "one fault";
        case 2:
            return "two faults";
        default:
            return "three faults";
    }
}

EvaluationCase described(const Played& played, const DrawnMachine& machine, bool unknown,
                         const MachinePlan& plan) {
    const auto right = [&](std::size_t rank) {
        return is_right_at(played, rank, machine, unknown, plan.knowledge().catalogue);
    };
    const Hypothesis truth{machine.faults.empty() ? HypothesisKind::nothing_wrong : HypothesisKind::fault,
                           machine.faults};
    EvaluationCase one{hypothesis_title(truth, plan),
                       played.named.front().title,
                       played.named.size() > 1 ? played.named[1].title : std::string(),
                       played.stated,
                       right(0),
                       right(0) || right(1),
                       played.minutes,
                       machine.facts,
                       {}};
    for (const Reading& reading : played.readings)
        one.course.push_back(describe(reading, plan.topology()));
    return one;
}

// What stands on the bench of the technician who has this machine.
NextOptions tools_of(const DrawnMachine& machine, const Perturbation& perturbation) {
    NextOptions options;
    options.most = 1;
    if (Random(machine.seed).uniform() < perturbation.no_camera_share)
        std::erase(options.instruments, ReadingKind::hot_part);
    return options;
}

// One machine more in the curve over the number of readings.
template <typename IsRight>
void add_curve(std::vector<FaultScore>& curve, const std::vector<NamedRepair>& leading, int most_readings,
               const IsRight& is_right_now) {
    curve.resize(static_cast<std::size_t>(most_readings) + 1);
    for (std::size_t count = 0; count < curve.size(); ++count) {
        ++curve[count].machines;
        curve[count].right += is_right_now(leading[std::min(count, leading.size() - 1)]) ? 1 : 0;
    }
}

// What the oracle may know that the reasoning does not: the spreads of the generating model.
AccuracyOptions oracle_accuracy(const Perturbation& perturbation) {
    AccuracyOptions accuracy;
    for (double* width :
         {&accuracy.meter_volts_share, &accuracy.meter_volts_digit, &accuracy.meter_amps_share,
          &accuracy.meter_amps_digit, &accuracy.dmm_volts_share, &accuracy.dmm_volts_digit})
        *width *= perturbation.noise_factor;
    return accuracy;
}

}  // namespace

PlayScore joined(const PlayScore& a, const PlayScore& b) {
    PlayScore sum;
    sum.machines = a.machines + b.machines;
    sum.right_first = a.right_first + b.right_first;
    sum.right_in_two = a.right_in_two + b.right_in_two;
    sum.sure_and_wrong = a.sure_and_wrong + b.sure_and_wrong;
    sum.sure_of_none = a.sure_of_none + b.sure_of_none;
    sum.none_leads = a.none_leads + b.none_leads;
    const double count = std::max(1, sum.machines);
    const auto mean = [&](double x, double y) { return (x * a.machines + y * b.machines) / count; };
    sum.mean_minutes = mean(a.mean_minutes, b.mean_minutes);
    sum.mean_readings = mean(a.mean_readings, b.mean_readings);
    for (std::size_t i = 0; i < sum.bins.size(); ++i) {
        const CalibrationBin& x = a.bins[i];
        const CalibrationBin& y = b.bins[i];
        CalibrationBin& bin = sum.bins[i];
        bin.machines = x.machines + y.machines;
        if (bin.machines == 0)
            continue;
        bin.stated = (x.stated * x.machines + y.stated * y.machines) / bin.machines;
        bin.right = (x.right * x.machines + y.right * y.machines) / bin.machines;
        sum.calibration_error += std::abs(bin.stated - bin.right) * bin.machines / count;
    }
    return sum;
}

EvaluationReport evaluate(const Knowledge& knowledge, const Topology& topology, const BenchCosts& costs,
                          const EvaluationOptions& options, const std::function<bool()>& stop,
                          const std::function<void(double)>& progress) {
    const bool unknown = options.perturbation.unknown_effects;
    const Knowledge generating =
        perturbed(unknown ? with_unknown_effects(knowledge, topology, options.seed) : knowledge,
                  options.perturbation, options.seed);
    const bool other_makers = options.perturbation.other_makers;
    const Knowledge library = other_makers ? with_alternatives_left_out(knowledge, options.seed) : knowledge;
    const FittedPlan plan(library, topology);
    const FittedPlan generating_plan(generating, topology);
    // Machines are spread over the threads, so each store works with one.
    PredictionOptions table_options;
    table_options.threads = 1;
    const Reasoner reasoner(std::make_shared<PredictionStore>(plan, table_options));
    const auto machines = drawn_machines(generating_plan, reasoner, options);
    table_options.tolerance_factor = options.perturbation.tolerance_factor;
    const Reasoner oracle(std::make_shared<PredictionStore>(generating_plan, table_options),
                          oracle_accuracy(options.perturbation));
    std::array<std::vector<NextAct>, bench_order_count> orders;
    for (std::size_t o = 0; o < orders.size(); ++o)
        orders[o] = readings_of(static_cast<BenchOrder>(o), plan, as_brought_in(topology, {}));

    std::vector<MachinePlays> plays(machines.size());
    const auto play_one = [&](std::size_t m) {
        const auto played = [&](const Reasoner& mind, const std::vector<NextAct>* order) {
            SimulatedBench fresh(generating_plan, machines[m].faults, machines[m].seed,
                                 options.perturbation.noise_factor, options.perturbation.tolerance_factor);
            if (other_makers)
                fresh.of_other_maker(drawn_nets(generating_plan, machines[m].faults, machines[m].seed),
                                     options.perturbation.slip_share);
            return play(mind, costs, machines[m], fresh, tools_of(machines[m], options.perturbation),
                        order == nullptr ? options.most_readings : static_cast<int>(order->size()), order);
        };
        plays[m].ours = played(reasoner, nullptr);
        if (options.oracle)
            plays[m].oracle = played(oracle, nullptr);
        for (std::size_t o = 0; options.orders && o < orders.size(); ++o)
            plays[m].orders[o] = played(reasoner, &orders[o]);
    };
    const bool stopped = !spread_over_threads(
        machines.size(), options.threads, [&] { return play_one; }, stop, progress);

    EvaluationReport report;
    report.stopped = stopped;
    if (stopped)
        return report;
    const FaultCatalogue& catalogue = generating.catalogue;
    Scorer ours;
    Scorer of_oracle;
    std::array<Scorer, bench_order_count> of_orders;
    for (std::size_t m = 0; m < machines.size(); ++m) {
        const DrawnMachine& machine = machines[m];
        ours.add(plays[m].ours, machine, unknown, catalogue);
        if (options.oracle)
            of_oracle.add(plays[m].oracle, machine, false, catalogue);
        for (std::size_t o = 0; options.orders && o < of_orders.size(); ++o)
            of_orders[o].add(plays[m].orders[o], machine, unknown, catalogue);
        const bool right = is_right(plays[m].ours.named.front(), machine, unknown, catalogue);
        add_curve(report.by_readings, plays[m].ours.leading, options.most_readings,
                  [&](const NamedRepair& named) { return is_right(named, machine, unknown, catalogue); });
        for (FaultScore* score :
             {&report.by_fault[machine.faults.empty() ? "nothing_wrong" : machine.faults.front().fault],
              &report.by_number[number_word(machine.faults.size())]}) {
            ++score->machines;
            score->right += right ? 1 : 0;
        }
        if (options.keep_cases)
            report.cases.push_back(described(plays[m].ours, machine, unknown, generating_plan));
    }
    report.ours = ours.finish();
    report.oracle = of_oracle.finish();
    for (std::size_t o = 0; o < of_orders.size(); ++o)
        report.orders[o] = of_orders[o].finish();
    return report;
}

}  // namespace eh
