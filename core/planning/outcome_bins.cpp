// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/outcome_bins.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/prediction/expectation.h"

namespace eh {
namespace {

using Meter = Traits<MeterReading>;

constexpr double reach = 3.0;  // widths that a spread is taken to have on either side

// Shares of a normal spread below so many widths from its mean, within `reach`: by straight lines between
// points that stand close enough for 1e-6 (half a step squared times half the steepest bend, 0.242). The
// planner asks for millions of them.
class NormalShares {
  public:
    NormalShares() {
        for (int i = 0; i <= points; ++i)
            below_[static_cast<std::size_t>(i)] =
                0.5 * std::erfc((reach - i / per_width) / std::numbers::sqrt2);
    }
    [[nodiscard]] double below(double widths) const {
        const double at = std::max((widths + reach) * per_width, 0.0);
        const auto point = std::min(static_cast<std::size_t>(at), static_cast<std::size_t>(points) - 1);
        return std::lerp(below_[point], below_[point + 1], at - static_cast<double>(point));
    }

  private:
    static constexpr double per_width = 200.0;
    static constexpr int points = static_cast<int>(2.0 * reach * per_width);
    std::array<double, points + 1> below_{};
};

// Share of a normal spread below an edge within its reach.
double share_below(const Foreseen& spread, double edge) {
    static const NormalShares shares;
    if (!(spread.width > 0.0))
        return 0.5;
    return shares.below((edge - spread.mean) / spread.width);
}

// Calls `take(bin, share)` for each bin that a spread falls into. The edges are on the spread's scale.
template <typename Edges, typename Take>
void over_bins(const Edges& edges, const Foreseen& spread, Take take) {
    double below = 0.0;
    const int last = static_cast<int>(edges.size());
    const auto first = std::lower_bound(edges.begin(), edges.end(), spread.mean - reach * spread.width);
    for (int b = static_cast<int>(first - edges.begin()); b <= last; ++b) {
        double up_to = 1.0;
        if (b < last) {
            const double edge = edges[static_cast<std::size_t>(b)];
            up_to = edge > spread.mean + reach * spread.width ? 1.0 : share_below(spread, edge);
        }
        if (up_to > below)
            take(b, up_to - below);
        if (up_to >= 1.0)
            return;
        below = up_to;
    }
}

}  // namespace

OutcomeEdges outcome_edges(const AccuracyOptions& accuracy, const MachinePlan& plan) {
    OutcomeEdges edges;
    for (const double amps : Meter::amp_edges)
        edges.ln_amps.push_back(ln_amps(amps, accuracy));
    for (const double ohms : Traits<NetOhmsReading>::edges)
        edges.ln_ohms.push_back(ln_ohms(ohms, accuracy));
    const auto of_pack = Traits<PackReading>::edge_volts(plan);
    edges.pack_volts.assign(of_pack.begin(), of_pack.end());
    return edges;
}

void add_meter_outcomes(MeterPattern pattern, const Foreseen& volts, const Foreseen& ln_amps_spread,
                        double weight, const OutcomeEdges& edges, OutcomeShares& shares) {
    if (pattern == MeterPattern::dark || pattern == MeterPattern::flash) {
        shares[static_cast<std::size_t>(pattern)] += weight;
        return;
    }
    const bool cycles = pattern == MeterPattern::cycling;
    over_bins(Meter::volt_edges, volts, [&](int v, double volts_share) {
        over_bins(edges.ln_amps, ln_amps_spread, [&](int a, double amps_share) {
            shares[static_cast<std::size_t>(Meter::lit_outcome(v, a, cycles))] +=
                weight * volts_share * amps_share;
        });
    });
}

void add_volts_outcomes(const Foreseen& volts, double weight, OutcomeShares& shares) {
    over_bins(Traits<NetVoltsReading>::edges, volts,
              [&](int b, double share) { shares[static_cast<std::size_t>(b)] += weight * share; });
}

void add_ohms_outcomes(const Foreseen& ln_ohms_spread, double weight, const OutcomeEdges& edges,
                       OutcomeShares& shares) {
    if (!std::isfinite(ln_ohms_spread.mean)) {
        shares.back() += weight;
        return;
    }
    over_bins(edges.ln_ohms, ln_ohms_spread,
              [&](int b, double share) { shares[static_cast<std::size_t>(b)] += weight * share; });
}

void add_pack_outcomes(const Foreseen& volts, double weight, const OutcomeEdges& edges,
                       OutcomeShares& shares) {
    over_bins(edges.pack_volts, volts,
              [&](int b, double share) { shares[static_cast<std::size_t>(b)] += weight * share; });
}

void add_word_outcomes(ReadingKind kind, const PoweredView& view, double weight,
                       const AccuracyOptions& accuracy, OutcomeShares& shares) {
    if (kind == ReadingKind::firmware) {
        const MessageShares said = message_shares(view);
        for (std::size_t m = 0; m < said.size(); ++m)
            shares[m] += weight * said[m];
    } else if (kind == ReadingKind::talk) {
        shares[static_cast<std::size_t>(view.talk)] += weight;
    } else if (kind == ReadingKind::sign) {
        for (std::size_t s = 0; s < view.signs.size(); ++s)
            shares[s] += weight * double{view.signs[s]};
    } else if (kind == ReadingKind::wiggle) {
        shares[1] += weight * seen_drop_probability(view);
        shares[0] += weight * (1.0 - seen_drop_probability(view));
    } else if (kind == ReadingKind::hot_part || kind == ReadingKind::injection) {
        const double nothing = nothing_warm_probability(hottest_part(view).kelvin, accuracy);
        shares[0] += weight * nothing;
        const auto named = hottest_shares(view, accuracy);
        constexpr double least_share = 0.01;
        for (std::size_t b = 0; b < named.size(); ++b) {
            if (named[b] > least_share)
                shares[1 + b] += weight * (1.0 - nothing) * named[b];
        }
    }
}

}  // namespace eh
