// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/design_depth.h"

#include "core/inference/bayes.h"

namespace eh {
namespace {

constexpr double out_of_the_question = 1e-3;
constexpr double enough_left = 0.5;
constexpr std::size_t most_deep = 8;

}  // namespace

double designs_that_carry(const std::vector<double>& sample_weights) {
    std::vector<double> of_designs(designs_of(sample_weights.size()), 0.0);
    for (std::size_t s = 0; s < sample_weights.size(); ++s)
        of_designs[s / samples_of_design] += sample_weights[s];
    return effective_number(of_designs);
}

std::vector<Depth> depths_needed(const PredictionTable& table, const Ranking& ranking) {
    const auto& hypotheses = table.hypotheses();
    std::vector<Depth> depths(hypotheses.size(), Depth::few_designs);
    std::size_t deep = 0;
    for (const Suspicion& suspicion : ranking.suspicions) {
        const std::size_t h = suspicion.hypothesis;
        if (suspicion.probability < out_of_the_question || deep == most_deep)
            break;
        if (hypotheses[h].kind == HypothesisKind::none_of_these)
            continue;
        if (designs_that_carry(ranking.sample_weights[h]) <
            enough_left * designs_that_carry(table.sample_weights(h))) {
            depths[h] = Depth::many_designs;
            ++deep;
        }
    }
    for (std::size_t h = 0; h < hypotheses.size(); ++h) {
        if (deep > 0 && hypotheses[h].kind == HypothesisKind::nothing_wrong)
            depths[h] = Depth::many_designs;
    }
    return depths;
}

}  // namespace eh
