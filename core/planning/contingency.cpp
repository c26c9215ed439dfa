// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/contingency.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/planning/outcome_bins.h"

namespace eh {
namespace {

constexpr double misread_share = 0.01;  // outcomes are misread
constexpr double least_telling = 0.02;  // outcomes less likely than this are not listed
constexpr std::size_t most_tellings = 4;

}  // namespace

void Contingency::add(std::size_t hypothesis, const OutcomeShares& shares) {
    joint_.resize(std::max(joint_.size(), shares.size()));
    for (std::size_t c = 0; c < shares.size(); ++c) {
        if (shares[c] <= 0.0)
            continue;
        if (joint_[c].empty())
            joint_[c].assign(parties_.probability.size(), 0.0);
        joint_[c][parties_.of_hypothesis[hypothesis]] += parties_.p_hypothesis[hypothesis] * shares[c];
    }
}

void Contingency::finish(double unknown_shows) {
    outcomes_ = static_cast<double>(joint_.size());
    double shown = 0.0;
    std::vector<double> seen(parties_.probability.size(), 0.0);
    for (const auto& column : joint_) {
        shown += column.empty() ? 0.0 : 1.0;
        for (std::size_t g = 0; g < column.size(); ++g)
            seen[g] += column[g];
    }
    const double known = std::accumulate(seen.begin(), seen.end(), 0.0);
    const auto add_anything = [&](std::vector<double>& column, double outcomes) {
        const double as_others = std::accumulate(column.begin(), column.end(), 0.0) / known;
        for (std::size_t g = 0; g < column.size(); ++g) {
            const double missing = parties_.probability[g] - seen[g];
            column[g] = column[g] * (1.0 - misread_share) +
                        (misread_share * seen[g] + unknown_shows * missing) * outcomes / outcomes_ +
                        (1.0 - unknown_shows) * missing * as_others;
        }
    };
    for (auto& column : joint_) {
        if (!column.empty())
            add_anything(column, 1.0);
    }
    joint_.emplace_back(parties_.probability.size(), 0.0);
    add_anything(joint_.back(), outcomes_ - shown);
}

double Contingency::bits() const {
    double information = 0.0;
    for (const auto& column : joint_) {
        const double q = std::accumulate(column.begin(), column.end(), 0.0);
        for (std::size_t g = 0; g < column.size(); ++g) {
            if (column[g] > 0.0)
                information += column[g] * std::log2(column[g] / (q * parties_.probability[g]));
        }
    }
    return std::max(0.0, information);
}

double Contingency::deciding_bits() const {
    const auto& p = parties_.probability;
    const auto leading = static_cast<std::size_t>(std::max_element(p.begin(), p.end()) - p.begin());
    const double total = std::accumulate(p.begin(), p.end(), 0.0);
    double on_the_leading = 0.0;
    for (const auto& column : joint_) {
        const double q = std::accumulate(column.begin(), column.end(), 0.0);
        const double of_leading = column.empty() ? 0.0 : column[leading];
        const double of_others = q - of_leading;
        if (of_leading > 0.0)
            on_the_leading += of_leading * std::log2(of_leading / (q * p[leading]));
        if (of_others > 0.0 && total > p[leading])
            on_the_leading += of_others * std::log2(of_others / (q * (total - p[leading])));
    }
    on_the_leading = std::max(0.0, on_the_leading);
    const double on_the_others = std::max(0.0, bits() - on_the_leading);
    return on_the_leading + (1.0 - p[leading]) * on_the_others;
}

double Contingency::bits_on_trial() const {
    // Shares in the doubt: of the leading party, of the others by the root of their probability, and of an
    // effect that shows as anything.
    constexpr double leading_share = 0.5;
    constexpr double others_share = 0.35;
    constexpr double unknown_share = 0.15;
    std::vector<double> share(parties_.probability.size() + 1, 0.0);
    double roots = 0.0;
    for (std::size_t g = 1; g < parties_.probability.size(); ++g) {
        if (parties_.list[g].kind != HypothesisKind::none_of_these)
            share[g] = std::sqrt(parties_.probability[g]);
        roots += share[g];
    }
    for (double& of_party : share)
        of_party *= roots > 0.0 ? others_share / roots : 0.0;
    share.front() = leading_share;
    share.back() = unknown_share;
    const double shown = static_cast<double>(
        std::count_if(joint_.begin(), joint_.end() - 1, [](const auto& column) { return !column.empty(); }));
    double information = 0.0;
    for (std::size_t c = 0; c < joint_.size(); ++c) {
        if (joint_[c].empty())
            continue;
        // The last one is the effect that shows as anything.
        const auto shown_by = [&](std::size_t g) {
            if (g < parties_.probability.size())
                return shows(c, g);
            return (c + 1 == joint_.size() ? outcomes_ - shown : 1.0) / outcomes_;
        };
        double q = 0.0;
        for (std::size_t g = 0; g < share.size(); ++g)
            q += share[g] * shown_by(g);
        for (std::size_t g = 0; g < share.size(); ++g) {
            if (share[g] > 0.0 && shown_by(g) > 0.0)
                information += share[g] * shown_by(g) * std::log2(shown_by(g) / q);
        }
    }
    return information;
}

double Contingency::cost_after(const BenchCosts& costs) const {
    double total = 0.0;
    for (const auto& column : joint_)
        total += column.empty() ? 0.0 : repair_now_minutes(column, parties_, costs);
    return total;
}

double Contingency::shows(std::size_t outcome, std::size_t party) const {
    const auto& column = joint_[outcome];
    const double probability = parties_.probability[party];
    return column.empty() || probability <= 0.0 ? 0.0 : column[party] / probability;
}

std::optional<ToldApart> Contingency::told_apart() const {
    constexpr std::size_t most_parties = 5;  // more are not worth naming
    constexpr double clearly = 0.3;          // of the outcomes of one that the other does not show
    const std::size_t parties = std::min(most_parties, parties_.list.size());
    std::optional<ToldApart> best;
    double best_weight = 0.0;
    for (std::size_t a = 0; a < parties; ++a) {
        for (std::size_t b = a + 1; b < parties; ++b) {
            double apart = 0.0;
            for (std::size_t c = 0; c < joint_.size(); ++c)
                apart += 0.5 * std::abs(shows(c, a) - shows(c, b));
            const double weight = apart * std::min(parties_.probability[a], parties_.probability[b]);
            if (apart >= clearly && weight > best_weight) {
                const Party& one = parties_.list[a];
                const Party& other = parties_.list[b];
                best = ToldApart{{one.block, one.kind}, {other.block, other.kind}};
                best_weight = weight;
            }
        }
    }
    return best;
}

std::vector<Telling> Contingency::tellings(ReadingKind kind, const MachinePlan& plan) const {
    std::vector<Telling> list;
    for (std::size_t c = 0; c + 1 < joint_.size(); ++c) {
        if (joint_[c].empty())
            continue;
        const double q = std::accumulate(joint_[c].begin(), joint_[c].end(), 0.0);
        const auto top = std::max_element(joint_[c].begin(), joint_[c].end());
        const Party& part = parties_.list[static_cast<std::size_t>(top - joint_[c].begin())];
        if (q >= least_telling)
            list.push_back({outcome_text(kind, static_cast<int>(c), plan), q, part.block, part.kind, *top / q,
                            static_cast<int>(c)});
    }
    std::sort(list.begin(), list.end(),
              [](const Telling& a, const Telling& b) { return a.probability > b.probability; });
    if (list.size() > most_tellings)
        list.resize(most_tellings);
    return list;
}

}  // namespace eh
