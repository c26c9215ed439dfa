// SPDX-License-Identifier: GPL-3.0-or-later
// The switched 3.3 V rail: there once the machine starts, on some makes before; a short on it stops the
// start.
#include <initializer_list>

#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

PartDraw of_maker(std::initializer_list<Habit> habits) {
    ByHabit<bool> has{};
    for (const Habit habit : habits)
        has[static_cast<std::size_t>(habit)] = true;
    PartDraw draw;
    draw.habits = has;
    return draw;
}

struct SwitchedRail {
    double switched_volts = 0.0;
    PoweredView view;
};

SwitchedRail rail_of(const std::string& machine, const std::vector<FaultInstance>& faults,
                     const PartDraw& draw, const BenchConfiguration& bench = plugged("p1")) {
    MachineModel model(shared_table(machine).plan(), faults, draw);
    DcSolver solver;
    SwitchedRail result;
    result.view = look_at(model, bench, solver);
    REQUIRE(result.view.valid);
    const auto& nets = topology(machine).nets;
    for (std::size_t n = 0; n < nets.size(); ++n)
        if (nets[n].id == "sys3v3")
            result.switched_volts = double{result.view.net_volts[n]};
    return result;
}

}  // namespace

TEST_CASE("the switched 3.3 V rail of every machine comes with its start", "[switched]") {
    for (const Topology& machine : shipped_knowledge().topologies) {
        CAPTURE(machine.id);
        REQUIRE(machine.find_net("sys3v3") != nullptr);
        CHECK(rail_of(machine.id, {}, of_maker({}), plugged(machine.ports.front().id)).switched_volts ==
              Approx(3.3).margin(0.1));
    }
    BenchConfiguration off = plugged("p1");
    off.button = Button::kept_off;
    CHECK(rail_of(chained, {}, of_maker({}), off).switched_volts < 0.1);
    CHECK(rail_of(chained, {{"mainboard_no_start", "mb"}}, of_maker({})).switched_volts < 0.1);
}

TEST_CASE("on some makes it is up before the start, so that 3.3 V there prove no start", "[switched]") {
    const PartDraw early = of_maker({Habit::switched_rail_comes_early});
    BenchConfiguration off = plugged("p1");
    off.button = Button::kept_off;
    CHECK(rail_of(chained, {}, early, off).switched_volts == Approx(3.3).margin(0.1));
    CHECK(rail_of(chained, {{"mainboard_no_start", "mb"}}, early).switched_volts == Approx(3.3).margin(0.1));
    BenchConfiguration unplugged = off;
    unplugged.charger_connected = false;
    unplugged.battery_in = false;
    CHECK(rail_of(chained, {}, early, unplugged).switched_volts < 0.1);
}

TEST_CASE("a hard short on the switched rail keeps the machine from starting, and feeds nothing for ever",
          "[switched]") {
    for (const PartDraw& draw : {of_maker({}), of_maker({Habit::switched_rail_comes_early})}) {
        const SwitchedRail shorted = rail_of(chained, {{"capacitor_shorted", "csw", 0.05, {}}}, draw);
        CHECK(shorted.switched_volts < 0.2);
        CHECK(shorted.view.firmware == FirmwareMessage::none);
        CHECK(shorted.view.meter.amps < 0.4);
        // What is always on is not behind it.
        CHECK(shorted.view.meter.volts > 15.0);
    }
}
