// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/severity_search.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <numeric>

#include "core/machine/model/fault_reach.h"
#include "core/prediction/sample_spread.h"

namespace eh {
namespace {

constexpr std::array widths{1.0 / 16.0, 1.0 / 8.0, 1.0 / 4.0};
constexpr double nearly_all = 0.85;
// Less likely hypotheses are not looked at more closely.
constexpr double out_of_the_question = 1e-4;

std::vector<Reading> with_the_machine_off(const std::vector<Reading>& readings) {
    std::vector<Reading> list;
    for (const Reading& reading : readings) {
        if (is_unpowered(reading.kind()))
            list.push_back(reading);
    }
    return list;
}

// How well each sample fits, whatever it weighed before.
std::vector<double> fit_of_samples(const std::vector<double>& after, const std::vector<double>& before) {
    assert(after.size() == before.size());
    std::vector<double> fit(after.size());
    std::transform(after.begin(), after.end(), before.begin(), fit.begin(),
                   [](double a, double b) { return b > 0.0 ? a / b : 0.0; });
    return fit;
}

void look_for_ranges(SeverityRanges& ranges, const PredictionTable& table, const Ranking& ranking) {
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    for (const Suspicion& suspicion : ranking.suspicions) {
        const std::size_t h = suspicion.hypothesis;
        if (suspicion.probability > out_of_the_question && !ranges[h] &&
            draws_severity(catalogue, table.hypotheses()[h].faults))
            ranges[h] = narrowest_range(fit_of_samples(ranking.sample_weights[h], table.sample_weights(h)));
    }
}

}  // namespace

std::optional<SeverityRange> narrowest_range(const std::vector<double>& fit) {
    const double all = std::accumulate(fit.begin(), fit.end(), 0.0);
    for (const double width : widths) {
        SeverityRange best;
        double most = 0.0;
        for (double from = 0.0; from + width <= 1.0; from += width / 2.0) {
            double held = 0.0;
            for (std::size_t s = 0; s < fit.size(); ++s)
                held += evenly(s) >= from && evenly(s) < from + width ? fit[s] : 0.0;
            if (held > most) {
                most = held;
                best = {from, from + width};
            }
        }
        if (most > nearly_all * all)
            return best;
    }
    return std::nullopt;
}

SeverityRanges severity_ranges(PredictionTable& table, const std::vector<double>& priors,
                               const std::vector<Reading>& readings, const Ranking& ranking,
                               const AccuracyOptions& accuracy, const std::function<bool()>& stop) {
    SeverityRanges ranges(table.hypotheses().size());
    const std::vector<Reading> off = with_the_machine_off(readings);
    if (!off.empty()) {
        const Ranking by_ohmmeter = rank(table, priors, off, accuracy, stop);
        if (stop && stop())
            return {};
        look_for_ranges(ranges, table, by_ohmmeter);
    }
    look_for_ranges(ranges, table, ranking);
    return ranges;
}

}  // namespace eh
