// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/outcome_bins.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/electrics/engineering.h"
#include "core/prediction/expectation.h"

namespace eh {
namespace {

// Edges between outcomes. Volts: between the contracts and between the usual rails.
constexpr std::array meter_volt_edges{4.4, 6.0, 10.0, 13.0, 17.0, 18.4};
constexpr std::array<const char*, 7> meter_volt_names{
    "below 4.4 V", "about 5 V", "about 9 V", "about 12 V", "about 15 V", "17 to 18 V", "18.5 V or more"};
constexpr std::array meter_amp_edges{0.03, 0.09, 0.2, 0.4, 0.9, 1.6, 2.6};
constexpr std::array<const char*, 8> meter_amp_names{"almost no current", "0.03 to 0.09 A", "0.09 to 0.2 A",
                                                     "0.2 to 0.4 A",      "0.4 to 0.9 A",   "0.9 to 1.6 A",
                                                     "1.6 to 2.6 A",      "over 2.6 A"};
constexpr std::array rail_edges{0.15, 0.5, 1.0, 1.6,  2.4,  3.0,  3.6, 4.4,
                                5.6,  7.0, 9.5, 12.0, 14.0, 17.0, 18.4};
constexpr std::array ohm_edges{0.3, 0.8, 2.0, 5.0, 12.0, 30.0, 100.0, 1e3, 1e4, 1e5};  // then OL
constexpr std::array drop_edges{0.05, 0.2, 0.35, 0.45, 0.55, 0.65, 0.8, 1.2};          // then OL
constexpr int amp_count = static_cast<int>(meter_amp_names.size());
constexpr int first_level = 4;  // after the patterns without a level
constexpr int volt_count = static_cast<int>(meter_volt_names.size());

template <typename Edges>
std::string range_text(const Edges& edges, int b, Unit unit) {
    const auto n = static_cast<int>(edges.size());
    if (b == 0)
        return "below " + format_quantity(edges[0], unit, 2);
    if (b == n)
        return "over " + format_quantity(edges[static_cast<std::size_t>(n - 1)], unit, 2);
    return format_quantity(edges[static_cast<std::size_t>(b - 1)], unit, 2) + " to " +
           format_quantity(edges[static_cast<std::size_t>(b)], unit, 2);
}

// Share of a normal spread below an edge.
double share_below(const Foreseen& spread, double edge) {
    return 0.5 * std::erfc((spread.mean - edge) / (spread.width * std::numbers::sqrt2));
}

// Calls `take(bin, share)` for each bin that a spread falls into. The edges are on the spread's scale.
template <typename Edges, typename Take>
void over_bins(const Edges& edges, const Foreseen& spread, Take take) {
    constexpr double reach = 3.0;  // widths
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

OutcomeEdges outcome_edges(const AccuracyOptions& accuracy) {
    OutcomeEdges edges;
    for (const double amps : meter_amp_edges)
        edges.ln_amps.push_back(ln_amps(amps, accuracy));
    for (const double ohms : ohm_edges)
        edges.ln_ohms.push_back(ln_ohms(ohms, accuracy));
    return edges;
}

std::size_t outcome_count(ReadingKind kind, const MachinePlan& plan) {
    switch (kind) {
        case ReadingKind::meter:
            return static_cast<std::size_t>(first_level + volt_count * amp_count * 2);
        case ReadingKind::net_volts:
            return rail_edges.size() + 1;
        case ReadingKind::net_ohms:
        case ReadingKind::through:
            return ohm_edges.size() + 1;
        case ReadingKind::diode:
            return drop_edges.size() + 1;
        case ReadingKind::look:
            return look_count;
        case ReadingKind::firmware:
            return firmware_message_count;
        case ReadingKind::talk:
            return negotiation_end_count;
        case ReadingKind::hot_part:
        case ReadingKind::injection:
            return plan.topology().blocks.size() + 1;
        case ReadingKind::wiggle:
            return 2;
    }
    return 0;
}

void add_meter_outcomes(MeterPattern pattern, const Foreseen& volts, const Foreseen& ln_amps_spread,
                        double weight, const OutcomeEdges& edges, OutcomeShares& shares) {
    if (pattern == MeterPattern::dark || pattern == MeterPattern::flash) {
        shares[static_cast<std::size_t>(pattern)] += weight;
        return;
    }
    const int cycles = pattern == MeterPattern::cycling ? 1 : 0;
    over_bins(meter_volt_edges, volts, [&](int v, double volts_share) {
        over_bins(edges.ln_amps, ln_amps_spread, [&](int a, double amps_share) {
            const int level = v * amp_count + a;
            shares[static_cast<std::size_t>(first_level + level * 2 + cycles)] +=
                weight * volts_share * amps_share;
        });
    });
}

void add_volts_outcomes(const Foreseen& volts, double weight, OutcomeShares& shares) {
    over_bins(rail_edges, volts,
              [&](int b, double share) { shares[static_cast<std::size_t>(b)] += weight * share; });
}

void add_ohms_outcomes(double over_limit, const Foreseen& ln_ohms_spread, double weight,
                       const OutcomeEdges& edges, OutcomeShares& shares) {
    shares.back() += weight * over_limit;
    if (!std::isfinite(ln_ohms_spread.mean)) {
        shares.back() += weight * (1.0 - over_limit);
        return;
    }
    over_bins(edges.ln_ohms, ln_ohms_spread, [&](int b, double share) {
        shares[static_cast<std::size_t>(b)] += weight * share * (1.0 - over_limit);
    });
}

void add_word_outcomes(ReadingKind kind, const PoweredView& view, double weight,
                       const AccuracyOptions& accuracy, OutcomeShares& shares) {
    if (kind == ReadingKind::firmware) {
        shares[static_cast<std::size_t>(view.firmware)] += weight;
    } else if (kind == ReadingKind::talk) {
        shares[static_cast<std::size_t>(view.talk)] += weight;
    } else if (kind == ReadingKind::wiggle) {
        shares[1] += weight * view.drop_probability;
        shares[0] += weight * (1.0 - view.drop_probability);
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

std::string outcome_text(ReadingKind kind, int outcome, const MachinePlan& plan) {
    switch (kind) {
        case ReadingKind::meter: {
            if (outcome == static_cast<int>(MeterPattern::dark))
                return "meter dark";
            if (outcome == static_cast<int>(MeterPattern::flash))
                return "lit for a moment, then dark";
            const int level = (outcome - first_level) / 2;
            const bool cycling = (outcome - first_level) % 2 != 0;
            return std::string(meter_volt_names[static_cast<std::size_t>(level / amp_count)]) + ", " +
                   meter_amp_names[static_cast<std::size_t>(level % amp_count)] +
                   (cycling ? ", coming and going" : "");
        }
        case ReadingKind::net_volts:
            return range_text(rail_edges, outcome, Unit::volts);
        case ReadingKind::net_ohms:
        case ReadingKind::through:
            return outcome == static_cast<int>(ohm_edges.size()) ? "OL"
                                                                 : range_text(ohm_edges, outcome, Unit::ohms);
        case ReadingKind::diode:
            return outcome == static_cast<int>(drop_edges.size())
                       ? "OL"
                       : range_text(drop_edges, outcome, Unit::volts);
        case ReadingKind::look:
            return describe(static_cast<Look>(outcome));
        case ReadingKind::firmware: {
            Reading reading;
            reading.kind = ReadingKind::firmware;
            reading.firmware = static_cast<FirmwareMessage>(outcome);
            return describe_value(reading, plan.topology());
        }
        case ReadingKind::talk: {
            Reading reading;
            reading.kind = ReadingKind::talk;
            reading.talk = static_cast<NegotiationEnd>(outcome);
            return describe_value(reading, plan.topology());
        }
        case ReadingKind::injection:
        case ReadingKind::hot_part: {
            if (outcome == 0)
                return "nothing warm";
            const std::string& id = plan.blocks[static_cast<std::size_t>(outcome - 1)].id;
            const Block* block = plan.topology().find_block(id);
            return (block == nullptr ? id : block->title) + " hottest";
        }
        case ReadingKind::wiggle:
            return outcome == 1 ? "drops out" : "holds";
    }
    return {};
}

}  // namespace eh
