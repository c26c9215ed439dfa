#include "core/diagnosis/evaluation.h"

#include <algorithm>
#include <cmath>

#include "core/diagnosis/simulated_bench.h"

namespace eh {
namespace {

constexpr double sure = 0.95;

// A hypothesis by its prior; "none of these" has no machine to draw.
std::size_t draw_hypothesis(const std::vector<Hypothesis>& hypotheses, Random& random) {
    double total = 0.0;
    for (const Hypothesis& h : hypotheses)
        total += h.kind == HypothesisKind::none_of_these ? 0.0 : h.prior;
    double left = random.uniform() * total;
    std::size_t chosen = 0;
    for (std::size_t i = 0; i < hypotheses.size(); ++i) {
        if (hypotheses[i].kind == HypothesisKind::none_of_these)
            continue;
        chosen = i;
        left -= hypotheses[i].prior;
        if (left < 0.0)
            break;
    }
    return chosen;
}

BenchConfiguration arrival(const Topology& topology) {
    BenchConfiguration configuration;
    configuration.port = topology.ports.front().id;
    configuration.charger = Owner::customer;
    configuration.lead = Owner::customer;
    return configuration;
}

struct Played {
    std::vector<std::string> named;  // parts, most suspected first; "" is "nothing wrong"
    std::string named_title;
    double stated = 0.0;
    double minutes = 0.0;
    std::vector<Reading> readings;
};

Played play(PredictionTable& table, const BenchCosts& costs, SimulatedBench& bench, int most_readings) {
    const auto priors = priors_of(table.hypotheses());
    BenchConfiguration now = arrival(table.plan().topology());
    Played played;
    std::vector<Reading>& readings = played.readings;
    Ranking ranking;
    NextOptions options;
    options.most = 1;
    for (;;) {
        ranking = rank(table, priors, readings);
        prepare_candidates(table, now);
        const NextStep step = next_acts(table, ranking, readings, now, costs, options);
        const bool nothing_wrong = ranking.parts.front().kind == HypothesisKind::nothing_wrong &&
                                   ranking.parts.front().probability >= costs.repair_due_probability;
        if (step.repair_due || nothing_wrong || step.acts.empty() ||
            static_cast<int>(readings.size()) >= most_readings)
            break;
        const NextAct& act = step.acts.front();
        played.minutes += act.minutes;
        readings.push_back(bench.take(act));
        readings.back().id = "r" + std::to_string(readings.size());
        now = act.configuration;
        // Parts taken off for a measurement go back before power returns.
        if (act.reading == ReadingKind::net_ohms)
            now.removed.clear();
    }
    for (const PartSuspicion& part : ranking.parts) {
        if (part.kind != HypothesisKind::none_of_these)
            played.named.push_back(part.block);
    }
    const PartSuspicion& first = ranking.parts.front();
    played.stated = first.probability;
    played.named_title = hypothesis_title(
        table.hypotheses()[ranking.suspicions[first.leading_hypothesis].hypothesis], table.plan());
    return played;
}

}  // namespace

EvaluationReport evaluate(PredictionTable& table, const BenchCosts& costs, const EvaluationOptions& options,
                          const std::function<bool()>& stop, const std::function<void(double)>& progress) {
    Random random(options.seed);
    EvaluationReport report;
    for (int m = 0; m < options.machines; ++m) {
        if (stop && stop()) {
            report.stopped = true;
            break;
        }
        const Hypothesis& truth = table.hypotheses()[draw_hypothesis(table.hypotheses(), random)];
        SimulatedBench bench(table.plan(), truth.faults, random.next(), options.noise_factor,
                             options.tolerance_factor);
        const Played played = play(table, costs, bench, options.most_readings);
        const auto is_right = [&](const std::string& block) {
            return truth.kind == HypothesisKind::nothing_wrong ? block.empty() : bench.at_fault(block);
        };
        const bool first = !played.named.empty() && is_right(played.named[0]);
        const bool second = played.named.size() > 1 && is_right(played.named[1]);
        ++report.machines;
        report.right_first += first ? 1 : 0;
        report.right_in_two += first || second ? 1 : 0;
        report.sure_and_wrong += played.stated > sure && !first ? 1 : 0;
        report.mean_minutes += played.minutes;
        report.mean_readings += static_cast<double>(played.readings.size());
        if (options.keep_cases) {
            EvaluationCase one{hypothesis_title(truth, table.plan()),
                               played.named_title,
                               played.stated,
                               first,
                               played.minutes,
                               {}};
            for (const Reading& reading : played.readings)
                one.course.push_back(describe(reading, table.plan().topology()));
            report.cases.push_back(std::move(one));
        }
        auto& bin = report.bins[static_cast<std::size_t>(std::min(9.0, played.stated * 10.0))];
        ++bin.machines;
        bin.stated += played.stated;
        bin.right += first ? 1.0 : 0.0;
        auto& score = report.by_fault[truth.faults.empty() ? "nothing_wrong" : truth.faults.front().fault];
        ++score.machines;
        score.right += first ? 1 : 0;
        if (progress)
            progress(static_cast<double>(m + 1) / options.machines);
    }
    const double count = std::max(1, report.machines);
    report.mean_minutes /= count;
    report.mean_readings /= count;
    for (CalibrationBin& bin : report.bins) {
        if (bin.machines == 0)
            continue;
        bin.stated /= bin.machines;
        bin.right /= bin.machines;
        report.calibration_error += std::abs(bin.stated - bin.right) * bin.machines / count;
    }
    return report;
}

}  // namespace eh
