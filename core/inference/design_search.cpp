// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/design_search.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <numeric>

#include "core/inference/bayes.h"

namespace eh {
namespace {

// Logits to which shares are drawn in: few, so that one more reading rarely asks for new designs, and none so
// far out that a habit is not drawn at all.
constexpr std::array<double, 4> logits{-2.5, -1.0, 1.0, 2.5};
constexpr double changes_nothing = 0.7;  // in logs

double drawn_share(double met, double log_of_having) {
    // What everybody does, or nobody, is no matter of readings: such designs would have no weight.
    const bool settled = met <= 0.0 || met >= 1.0;
    if (settled || std::abs(log_of_having) < changes_nothing)
        return met;
    constexpr double edge = 0.02;
    const double share = std::clamp(met, edge, 1.0 - edge);
    const double logit = std::log(share / (1.0 - share)) + log_of_having;
    const double nearest = *std::min_element(logits.begin(), logits.end(), [&](double a, double b) {
        return std::abs(a - logit) < std::abs(b - logit);
    });
    return 1.0 / (1.0 + std::exp(-nearest));
}

}  // namespace

namespace {

// Over the hypotheses that count; empty where none has a share.
template <typename Counts>
std::vector<double> log_evidence(const PredictionTable& table, const Ranking& ranking, const Counts& counts) {
    const auto& designs = table.store()->options().designs;
    const std::size_t few = table.options().few_designs();
    std::vector<double> sums(few, 0.0);
    bool any = false;
    for (const Suspicion& suspicion : ranking.suspicions) {
        if (!counts(suspicion.hypothesis))
            continue;
        any = any || suspicion.probability > 0.0;
        const auto& weights = ranking.sample_weights[suspicion.hypothesis];
        for (std::size_t s = 0; s < weights.size() && s / samples_of_design < few; ++s)
            sums[s / samples_of_design] += suspicion.probability * weights[s];
    }
    std::vector<double> logs;
    logs.reserve(sums.size());
    for (std::size_t d = 0; any && d < sums.size(); ++d)
        logs.push_back(std::log(std::max(sums[d] / designs[d].weight, 1e-300)));
    return logs;
}

}  // namespace

std::vector<double> log_evidence_of_designs(const PredictionTable& table, const Ranking& ranking) {
    return log_evidence(table, ranking, [](std::size_t) { return true; });
}

std::vector<double> log_evidence_for_rivals(const PredictionTable& table, const Ranking& ranking) {
    return log_evidence(table, ranking, [&](std::size_t hypothesis) {
        return table.hypotheses()[hypothesis].kind != HypothesisKind::none_of_these &&
               !names_leading_part(table, ranking, hypothesis);
    });
}

bool names_leading_part(const PredictionTable& table, const Ranking& ranking, std::size_t hypothesis) {
    const auto& hypotheses = table.hypotheses();
    const auto leading =
        std::find_if(ranking.suspicions.begin(), ranking.suspicions.end(), [&](const Suspicion& suspicion) {
            return hypotheses[suspicion.hypothesis].kind != HypothesisKind::none_of_these;
        });
    if (leading == ranking.suspicions.end())
        return false;
    const auto& named = hypotheses[leading->hypothesis].faults;
    const auto& faults = hypotheses[hypothesis].faults;
    // Where nothing is wrong, as long as that leads.
    if (named.empty())
        return faults.empty();
    return std::any_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
        return std::any_of(named.begin(), named.end(),
                           [&](const FaultInstance& other) { return other.block == fault.block; });
    });
}

double effective_designs(const std::vector<double>& log_evidence, const std::vector<DesignSample>& designs) {
    assert(log_evidence.size() <= designs.size());
    std::vector<double> logs;
    logs.reserve(log_evidence.size());
    for (std::size_t d = 0; d < log_evidence.size(); ++d)
        logs.push_back(log_evidence[d] + std::log(designs[d].weight));
    return effective_number(posterior(logs));
}

DesignShares shares_that_fit(const DesignShares& met, const DesignSample& design,
                             const std::vector<double>& log_evidence) {
    assert(log_evidence.size() == neighbours(design).size());
    DesignShares shares = met;
    const auto of_having = [&](bool has, std::size_t neighbour) {
        const double by_turning = log_evidence[neighbour] - log_evidence.front();
        return has ? -by_turning : by_turning;
    };
    for (std::size_t h = 0; h < habit_count; ++h)
        shares.habits[h] = drawn_share(met.habits[h], of_having(design.habits[h], h + 1));
    shares.pack_empty = drawn_share(shares.pack_empty, of_having(design.pack_empty, habit_count + 1));
    return shares;
}

}  // namespace eh
