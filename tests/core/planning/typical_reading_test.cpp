// SPDX-License-Identifier: GPL-3.0-or-later
// An outcome that is written down as a reading is that outcome.
#include "core/planning/typical_reading.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <set>

#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

template <typename Edges>
int bin_in(const Edges& edges, double value) {
    int bin = 0;
    for (const double edge : edges)
        bin += value >= edge ? 1 : 0;
    return bin;
}

// The outcome that a reading is, counted again from its values; -1 for kinds that are not counted here.
int outcome_of(const Reading& reading, const MachinePlan& plan) {
    if (const auto* meter = reading.as<MeterReading>()) {
        const MeterSummary& shown = meter->meter;
        if (shown.pattern == MeterPattern::dark || shown.pattern == MeterPattern::flash)
            return static_cast<int>(shown.pattern);
        return Traits<MeterReading>::lit_outcome(bin_in(Traits<MeterReading>::volt_edges, shown.volts),
                                                 bin_in(Traits<MeterReading>::amp_edges, shown.amps),
                                                 shown.pattern == MeterPattern::cycling);
    }
    if (const auto* volts = reading.as<NetVoltsReading>())
        return bin_in(Traits<NetVoltsReading>::edges, volts->volts);
    if (const auto* pack = reading.as<PackReading>())
        return bin_in(Traits<PackReading>::edge_volts(plan), pack->volts.value());
    if (is_unpowered(reading.kind())) {
        const auto& ohms = *number_when_off(reading);
        const auto& edges = Traits<NetOhmsReading>::edges;
        return ohms ? bin_in(edges, *ohms) : static_cast<int>(edges.size());
    }
    if (const auto* says = reading.as<FirmwareReading>())
        return static_cast<int>(says->message);
    if (const auto* wiggle = reading.as<WiggleReading>())
        return wiggle->drops_out ? 1 : 0;
    if (const auto* hot = reading.as<HotPartReading>())
        return hot->part.empty() ? 0 : plan.find_block(hot->part) + 1;
    if (const auto* look = reading.as<LookReading>())
        return static_cast<int>(look->seen);
    return -1;
}

}  // namespace

TEST_CASE("a typical reading falls into the outcome that it stands for, and can be entered", "[hour]") {
    PredictionTable& table = shared_table(barrel);
    const BenchConfiguration now = plugged("p1");
    const std::vector<Reading> taken{meter_reading("a", now, MeterPattern::steady, 19.2, 0.02)};
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), taken);
    prepare_candidates(table, ranking, taken, now);
    NextOptions all;
    all.most = 200;
    const NextStep step = next_acts(table, ranking, taken, now, shipped_costs(), all);
    std::set<ReadingKind> kinds;
    std::size_t missing = 0;
    std::size_t seen = 0;
    for (const NextAct& act : step.acts) {
        if (act.repair)
            continue;
        for (const Telling& telling : act.tells) {
            CAPTURE(describe(act, table.plan()), telling.shows);
            ++seen;
            const auto reading = typical_reading(table, ranking, now, act, telling.outcome);
            if (!reading) {
                ++missing;  // none of the suspects shows it but by the instrument's error
                continue;
            }
            kinds.insert(reading->kind());
            CHECK(reading->kind() == act.reading);
            CHECK(check_reading(*reading, table.plan()).ok());
            if (const int outcome = outcome_of(*reading, table.plan()); outcome >= 0)
                CHECK(outcome == telling.outcome);
        }
    }
    CHECK(kinds.size() >= 6);
    CHECK(missing * 4 < seen);
}
