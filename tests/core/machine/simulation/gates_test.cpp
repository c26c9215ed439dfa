// SPDX-License-Identifier: GPL-3.0-or-later
// The gate of an input's switch tells a switch that does not close from a driver that does not drive it.
// Common practice: an N-channel pair is driven some volts above its input, a P-channel one below it.
#include <algorithm>

#include <catch2/catch.hpp>

#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "core/prediction/hypothesis.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

// Volts above the input, or below it, at a gate of a machine of typical parts with the charger plugged in.
double above_input(const std::string& id, const std::string& gate, const std::string& input,
                   const std::vector<Habit>& habits, const std::vector<FaultInstance>& faults) {
    PartDraw draw;
    draw.habits.emplace();
    for (const Habit habit : habits)
        (*draw.habits)[static_cast<std::size_t>(habit)] = true;
    MachineModel model(shared_table(id).plan(), faults, draw);
    BenchConfiguration bench = plugged("p1");
    bench.battery_in = false;
    DcSolver solver;
    const PoweredView view = look_at(model, bench, solver);
    REQUIRE(view.valid);
    const auto at = [&](const std::string& net) {
        return double{view.net_volts[static_cast<std::size_t>(net_index(topology(id), net))]};
    };
    return at(gate) - at(input);
}

bool suspects_hold(const std::string& id, const std::string& fault) {
    const FittedPlan plan(shipped_knowledge(), topology(id));
    const auto hypotheses = make_hypotheses(plan, {});
    return std::any_of(hypotheses.begin(), hypotheses.end(), [&](const Hypothesis& hypothesis) {
        return std::any_of(hypothesis.faults.begin(), hypothesis.faults.end(),
                           [&](const FaultInstance& one) { return one.fault == fault; });
    });
}

}  // namespace

TEST_CASE("a driven gate stands above its input, or below it where the switch is of the other kind",
          "[gates]") {
    struct Place {
        const char* machine;
        const char* gate;
        const char* input;
        FaultInstance stays_open;
    };
    for (const Place& place : {Place{"barrel-id", "ingate", "vdc", {"input_switch_open", "isw"}},
                               Place{"barrel-sense", "ingate", "vdc", {"sensed_switch_open", "isw"}},
                               Place{"usbc-dual", "gate1", "vbus1", {"switch_open", "sw1"}}}) {
        CAPTURE(place.machine);
        for (const std::vector<FaultInstance>& faults :
             {std::vector<FaultInstance>{}, std::vector<FaultInstance>{place.stays_open}}) {
            const double n_channel = above_input(place.machine, place.gate, place.input, {}, faults);
            CHECK(n_channel > 4.0);
            CHECK(n_channel < 12.0);
            const double p_channel =
                above_input(place.machine, place.gate, place.input, {Habit::p_channel_switches}, faults);
            CHECK(p_channel < -4.0);
            CHECK(p_channel > -19.0);
        }
    }
}

TEST_CASE("a gate that nobody drives stands at ground or at its input", "[gates]") {
    const std::vector<FaultInstance> dead{{"gate_driver_dead", "isd"}};
    CHECK(above_input("barrel-id", "ingate", "vdc", {}, dead) == Approx(-19.5).margin(1.0));
    CHECK(above_input("barrel-id", "ingate", "vdc", {Habit::p_channel_switches}, dead) ==
          Approx(0.0).margin(1.0));
    // A dead charger chip drives nothing where it is the driver.
    const std::vector<FaultInstance> charger{{"charger_circuit_dead", "chg"}};
    CHECK(above_input("barrel-id", "ingate", "vdc", {Habit::charger_drives_input_switch}, charger) < -15.0);
    CHECK(above_input("barrel-id", "ingate", "vdc", {}, charger) > 4.0);
    // A controller that never lets its path close does not drive the gate of its port.
    const std::vector<FaultInstance> program{{"dual_path_open", "pc"}};
    CHECK(above_input("usbc-dual", "gate1", "vbus1", {}, program) < -15.0);
}

TEST_CASE("a fault that finds nothing to change on a machine is no suspect there", "[hypotheses]") {
    // A regulator inside the controller, a second port on the flex, an ID wire: where there is none, it
    // cannot fail.
    CHECK(suspects_hold("usbc-single", "controller_regulator_dead"));
    CHECK_FALSE(suspects_hold("usbc-subboard", "controller_regulator_dead"));
    CHECK(suspects_hold("usbc-subboard-pair", "flex_cc1_broken_b"));
    CHECK_FALSE(suspects_hold("usbc-subboard", "flex_cc1_broken_b"));
    CHECK(suspects_hold("barrel-id", "harness_id_open"));
    CHECK_FALSE(suspects_hold("barrel-harness", "harness_id_open"));
    CHECK_FALSE(suspects_hold("barrel-harness", "jack_id_contact"));
    CHECK(suspects_hold("barrel-harness", "harness_power_open"));
    // What drops out, dies or says something needs no pin or element of its own.
    CHECK(suspects_hold("usbc-subboard", "receptacle_mount"));
    CHECK(suspects_hold("usbc-subboard", "battery_full"));
}

TEST_CASE("a diode that is open, or that this maker does not fit, lets nothing through", "[machine]") {
    // The controllers' supply hangs on the plugged port's diode alone.
    const FaultInstance open{"port_supply_diode_open", "sd1"};
    CHECK(above_input("usbc-dual", "pdin", "vbus1", {}, {}) > -1.0);
    CHECK(above_input("usbc-dual", "pdin", "vbus1", {}, {open}) < -4.0);
    // From the always-on supply, or from the 5 V rail, only where the maker has it so.
    CHECK(above_input("usbc-dual", "pd3v3", "aon3v3", {Habit::controllers_on_always_on}, {open}) > -0.5);
    CHECK(above_input("usbc-dual", "pd3v3", "aon3v3", {}, {open}) < 0.1);
}
