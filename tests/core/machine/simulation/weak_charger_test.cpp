// SPDX-License-Identifier: GPL-3.0-or-later
// Chargers that are sound and too small: of 5 V only, of too few watts, of too few volts for a big machine.
// What is taken at 5 V is an estimate of the trade: half an ampere to the three amperes that a source of 15 W
// has (USB Type-C, from memory).
#include <initializer_list>

#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

PartDraw with_habits(std::initializer_list<Habit> habits) {
    ByHabit<bool> has{};
    for (const Habit habit : habits)
        has[static_cast<std::size_t>(habit)] = true;
    PartDraw draw;
    draw.habits = has;
    return draw;
}

PoweredView view_of(const std::string& machine, const std::vector<FaultInstance>& faults,
                    const PartDraw& draw, Owner charger = Owner::customer) {
    MachineModel model(shared_table(machine).plan(), faults, draw);
    DcSolver solver;
    BenchConfiguration bench = plugged("p1");
    bench.charger = charger;
    bench.lead = charger;
    PoweredView view = look_at(model, bench, solver);
    REQUIRE(view.valid);
    return view;
}

std::string customers_charger(const std::string& machine) {
    return charger_block_id(topology(machine).ports.front().family);
}

}  // namespace

TEST_CASE("some makes run on and take a few watts from a charger of 5 V, most take next to nothing",
          "[weak]") {
    const FaultInstance five_only{"charger_5v_only", customers_charger("usbc-dual")};
    const PartDraw takes = with_habits({Habit::path_closes_at_5_volts, Habit::draws_at_5_volts});
    const PoweredView taken = view_of("usbc-dual", {five_only}, takes);
    CHECK(taken.meter.pattern == MeterPattern::steady);
    CHECK(taken.meter.volts == Approx(5.0).margin(0.4));
    CHECK(taken.meter.amps > 0.5);
    CHECK(taken.meter.amps < 3.3);
    CHECK(taken.called_slow > 0.0F);
    CHECK(taken.trend == ChargeTrend::falling);
    const PoweredView leaves =
        view_of("usbc-dual", {five_only}, with_habits({Habit::path_closes_at_5_volts}));
    CHECK(leaves.meter.amps < 0.3);
    // With a charger that has more, both take that.
    CHECK(view_of("usbc-dual", {five_only}, takes, Owner::bench).meter.volts > 18.0);
    CHECK(view_of("usbc-dual", {}, takes).meter.volts > 18.0);
}

TEST_CASE("what a dead controller keeps at 5 V takes nothing of them", "[weak]") {
    const PartDraw takes = with_habits({Habit::path_closes_at_5_volts, Habit::draws_at_5_volts});
    CHECK(view_of("usbc-dual", {{"controller_dead", "pc"}}, takes).meter.amps < 0.3);
    CHECK(view_of(chained, {{"memory_unreadable", "mem"}}, takes).meter.amps < 0.3);
}

TEST_CASE("a charger of too few watts or volts is called slow where the machine is made for more", "[weak]") {
    const FaultInstance small{"charger_few_watts", customers_charger("usbc-dual")};
    const PoweredView few = view_of("usbc-dual", {small}, with_habits({}));
    CHECK(few.meter.volts > 18.0);
    CHECK(few.meter.amps < 1.7);
    CHECK(few.called_slow > 0.0F);
    CHECK(few.adapter_watts == Approx(30.0));
    CHECK(view_of("usbc-dual", {small}, with_habits({}), Owner::bench).called_slow == 0.0F);

    const FaultInstance twenty{"charger_20v", customers_charger("usbc-extended-range")};
    const PoweredView big = view_of("usbc-extended-range", {twenty}, with_habits({}));
    CHECK(big.meter.volts == Approx(20.0).margin(1.0));
    CHECK(big.called_slow > 0.0F);
    const FaultInstance no_matter{"charger_20v", customers_charger("usbc-dual")};
    CHECK(view_of("usbc-dual", {no_matter}, with_habits({})).called_slow == 0.0F);
}
