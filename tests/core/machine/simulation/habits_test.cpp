// SPDX-License-Identifier: GPL-3.0-or-later
// What one maker's machines do and another's do not, and what no machine does: feed a short for ever.
#include <catch2/catch.hpp>

#include <cmath>

#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/model/net_index.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

const MachinePlan& plan_of(const std::string& id) {
    return shared_table(id).plan();
}

// A machine of typical parts with just these habits.
MachineModel machine_with(const std::string& id, const std::vector<Habit>& habits,
                          const std::vector<FaultInstance>& faults = {}) {
    PartDraw draw;
    ByHabit<bool> of_machine{};
    for (const Habit habit : habits)
        of_machine[static_cast<std::size_t>(habit)] = true;
    draw.habits = of_machine;
    return {plan_of(id), faults, draw};
}

PoweredView seen(MachineModel model, const BenchConfiguration& configuration) {
    DcSolver solver;
    PoweredView view = look_at(model, configuration, solver);
    REQUIRE(view.valid);
    return view;
}

double volts_at(const PoweredView& view, const std::string& id, const std::string& net) {
    return double{view.net_volts[static_cast<std::size_t>(net_index(topology(id), net))]};
}

double ohms_at(MachineModel model, const std::string& id, const std::string& net) {
    DcSolver solver;
    model.configure(for_ohms());
    return model.ohms_to_ground(net_index(topology(id), net), solver);
}

BenchConfiguration without_battery(const std::string& port) {
    BenchConfiguration bench = plugged(port);
    bench.battery_in = false;
    return bench;
}

constexpr const char* dual = "usbc-dual";

}  // namespace

TEST_CASE("an Rd that needs power is hardly there for an ohmmeter, and there for a charger", "[habits]") {
    // Common practice: 5.1 kilohms, or 40 kilohms to OL where a transistor stands for it.
    CHECK(ohms_at(machine_with(chained, {}), chained, "cc1_p1") == Approx(5100.0).epsilon(0.05));
    CHECK(ohms_at(machine_with(chained, {Habit::rd_needs_power}), chained, "cc1_p1") > 4e4);
    const auto powered = seen(machine_with(chained, {Habit::rd_needs_power}), plugged("p1"));
    CHECK(powered.meter.volts > 19.0);
}

TEST_CASE("a sink path that closes at 5 V shows them behind it, any other shows nothing there", "[habits]") {
    const FaultInstance five_volts_only{"charger_5v_only", "charger_usb-c"};
    BenchConfiguration bench = plugged("p1");
    bench.charger = Owner::customer;
    bench.battery_in = false;
    const auto closed =
        seen(machine_with(chained, {Habit::path_closes_at_5_volts}, {five_volts_only}), bench);
    CHECK(volts_at(closed, chained, "chgin") == Approx(5.0).margin(0.4));
    const auto open = seen(machine_with(chained, {}, {five_volts_only}), bench);
    CHECK(volts_at(open, chained, "chgin") < 1.0);
    CHECK(open.meter.volts == Approx(5.0).margin(0.3));
}

TEST_CASE("what keeps a machine from starting keeps its core at 0 V and its screen dark", "[habits]") {
    const FaultInstance deep{"battery_deep", "bat"};
    const FaultInstance no_five_volts{"buck_dead", "s5v"};
    struct Case {
        Habit habit;
        std::vector<FaultInstance> faults;
    };
    for (const Case& one : {Case{Habit::rests_until_pressed, {}}, Case{Habit::deep_pack_blocks_start, {deep}},
                            Case{Habit::five_volts_gate_start, {no_five_volts}}}) {
        CAPTURE(static_cast<int>(one.habit));
        const auto rests = seen(machine_with(chained, {one.habit}, one.faults), plugged("p1"));
        CHECK(volts_at(rests, chained, "core") < 0.1);
        CHECK(rests.firmware == FirmwareMessage::none);
        const auto starts = seen(machine_with(chained, {}, one.faults), plugged("p1"));
        CHECK(volts_at(starts, chained, "core") > 0.5);
        CHECK(starts.meter.amps > rests.meter.amps);
    }
}

TEST_CASE("an always-on supply that gates the 5 V rail takes it along when it dies", "[habits]") {
    const FaultInstance dead{"buck_dead", "aon"};
    const auto gated =
        seen(machine_with(chained, {Habit::always_on_gates_five_volts}, {dead}), plugged("p1"));
    CHECK(volts_at(gated, chained, "5vport") < 0.5);
    const auto alone = seen(machine_with(chained, {}, {dead}), plugged("p1"));
    CHECK(volts_at(alone, chained, "5vport") == Approx(5.0).margin(0.3));
}

TEST_CASE("a dead charger chip that drives the input switch leaves it open", "[habits]") {
    const FaultInstance dead{"charger_circuit_dead", "chg"};
    const auto driven =
        seen(machine_with(barrel, {Habit::charger_drives_input_switch}, {dead}), without_battery("p1"));
    CHECK(volts_at(driven, barrel, "vin") < 5.0);
    const auto by_itself = seen(machine_with(barrel, {}, {dead}), without_battery("p1"));
    CHECK(volts_at(by_itself, barrel, "vin") > 18.0);
}

TEST_CASE("a dead charger chip that drives the sink paths leaves them open behind their contract",
          "[habits]") {
    const FaultInstance dead{"charger_circuit_dead", "chg"};
    const auto driven =
        seen(machine_with(chained, {Habit::charger_drives_sink_path}, {dead}), without_battery("p1"));
    CHECK(driven.meter.volts > 18.0);
    CHECK(volts_at(driven, chained, "chgin") < 5.0);
    const auto by_itself = seen(machine_with(chained, {}, {dead}), without_battery("p1"));
    CHECK(volts_at(by_itself, chained, "chgin") > 18.0);
}

TEST_CASE("a controllers' supply that folds back feeds a short at its output with fewer amps", "[habits]") {
    // Common practice: limited at 20 to 300 mA, or folding back.
    const FaultInstance shorted{"linear_supply_shorted", "pds", 1.0};
    const auto folded =
        seen(machine_with(chained, {Habit::regulators_fold_back}, {shorted}), without_battery("p1"));
    const auto full = seen(machine_with(chained, {}, {shorted}), without_battery("p1"));
    CHECK(folded.meter.amps > 0.03);
    CHECK(folded.meter.amps < 0.5 * full.meter.amps);
    const auto sound = seen(machine_with(chained, {Habit::regulators_fold_back}), without_battery("p1"));
    CHECK(sound.meter.volts > 18.0);
}

TEST_CASE("a charger that spares a weak input charges less behind a worn contact, and keeps its input up",
          "[habits]") {
    // Common practice: charger chips hold their input above a limit by taking less current.
    const FaultInstance worn{"receptacle_worn", "rec1", 2.5};
    const auto spared =
        seen(machine_with(chained, {Habit::charger_spares_weak_input}, {worn}), plugged("p1"));
    const auto drained = seen(machine_with(chained, {}, {worn}), plugged("p1"));
    CHECK(spared.meter.pattern == MeterPattern::steady);
    CHECK(volts_at(spared, chained, "chgin") > 14.0);
    CHECK(volts_at(spared, chained, "chgin") > volts_at(drained, chained, "chgin") + 0.5);
    // A sound contact leaves it nothing to spare.
    const auto sound = seen(machine_with(chained, {Habit::charger_spares_weak_input}), plugged("p1"));
    const auto other = seen(machine_with(chained, {}), plugged("p1"));
    CHECK(sound.meter.amps == Approx(other.meter.amps));
}

TEST_CASE("a machine that does not name its charge limit says no more than that it does not charge",
          "[habits]") {
    const FaultInstance limit{"charge_limit_set", "bat"};
    CHECK(seen(machine_with(chained, {}, {limit}), plugged("p1")).firmware == FirmwareMessage::charge_limit);
    CHECK(seen(machine_with(chained, {Habit::limit_is_silent}, {limit}), plugged("p1")).firmware ==
          FirmwareMessage::not_charging);
}

TEST_CASE("no converter feeds a short for ever: the rail is at 0 V and the converter cool", "[habits]") {
    // Common practice: hiccup, latched or thermal shut-down.
    const FaultInstance shorted{"capacitor_shorted", "cm", 0.05};
    const auto view = seen(machine_with(chained, {}, {shorted}), without_battery("p1"));
    CHECK(volts_at(view, chained, "main") < 0.5);
    const auto charger = static_cast<std::size_t>(plan_of(chained).find_block("chg"));
    CHECK(view.rise_kelvin[charger] < 10.0F);
}

TEST_CASE("a pack parts from a machine that is shorted, and stays away", "[habits]") {
    const FaultInstance shorted{"capacitor_shorted", "cm", 0.05};
    BenchConfiguration unplugged = plugged("p1");
    unplugged.charger_connected = false;
    for (const BenchConfiguration& bench : {unplugged, plugged("p1")}) {
        const auto view = seen(machine_with(chained, {}, {shorted}), bench);
        CHECK(volts_at(view, chained, "main") < 0.5);
        CHECK(volts_at(view, chained, "vbat") < 0.5);
    }
    CHECK(volts_at(seen(machine_with(chained, {}), unplugged), chained, "vbat") > 6.0);
}

TEST_CASE("a wrong program that never closes the path makes its contract all the same", "[habits]") {
    const auto view =
        seen(machine_with(chained, {}, {{"controller_path_open", "pc1"}}), without_battery("p1"));
    CHECK(view.meter.volts > 19.0);
    CHECK(volts_at(view, chained, "chgin") < 1.0);
    const auto other =
        seen(machine_with(chained, {}, {{"controller_path_open", "pc1"}}), without_battery("p2"));
    CHECK(volts_at(other, chained, "chgin") > 19.0);
}

TEST_CASE("one port of a dual controller may be stuck while the other works", "[habits]") {
    const std::vector<FaultInstance> stuck{{"dual_stuck_5v_1", "pc"}};
    CHECK(seen(machine_with(dual, {}, stuck), plugged("p1")).meter.volts < 5.5);
    CHECK(seen(machine_with(dual, {}, stuck), plugged("p2")).meter.volts > 19.0);
}

TEST_CASE("heat settles: small rises stay as they are, none goes beyond what a part survives", "[habits]") {
    double before = -1.0;
    for (double rise = 0.0; rise < 1e4; rise = rise * 1.7 + 0.5) {
        const double settled = settled_rise(rise);
        CHECK(settled <= rise);
        CHECK(settled < 180.0);
        CHECK(settled > before);
        CHECK(unsettled_rise(settled) == Approx(rise).epsilon(1e-6).margin(1e-9));
        before = settled;
    }
    CHECK(settled_rise(10.0) == Approx(10.0).epsilon(0.06));
}

TEST_CASE("a file of spreads and habits is refused with the field that is wrong", "[habits]") {
    const auto refusal = [](const std::string& habits, const std::string& pins) {
        const std::string text = R"({"format": "eager-hound.variety/1", "amps_factor": 2, "habits": [)" +
                                 habits + R"(], "pins": [)" + pins + "]}";
        const auto variety = parse_variety(text, "variety.json", shipped_knowledge().kinds);
        return variety ? std::string() : variety.error().text();
    };
    const std::string good = R"({"kind": "charger_circuit", "pin": "out", "volts_share": 0.1})";
    const std::string words = R"(, "has": "does", "has_not": "does not"})";
    CHECK(refusal(R"({"id": "rd_needs_power", "share": 0.4)" + words, good).empty());
    CHECK_THAT(refusal(R"({"id": "sings", "share": 0.4)" + words, good), Catch::Contains("habits[0]: id"));
    CHECK_THAT(refusal(R"({"id": "rd_needs_power", "share": 1.4)" + words, good), Catch::Contains("share"));
    CHECK_THAT(refusal(R"({"id": "rd_needs_power", "share": 0.4})", good), Catch::Contains("has"));
    CHECK_THAT(refusal("", R"({"kind": "spoon", "pin": "out", "volts_share": 0.1})"),
               Catch::Contains("spoon"));
    CHECK_THAT(refusal("", R"({"kind": "capacitor", "pin": "ear", "volts_share": 0.1})"),
               Catch::Contains("pins[0]: pin"));
    CHECK_THAT(refusal("", R"({"kind": "capacitor", "pin": "line"})"), Catch::Contains("spread"));
    CHECK_THAT(refusal("", R"({"kind": "capacitor", "pin": "line", "ohms_factor": 0.5})"),
               Catch::Contains("ohms_factor"));
}

TEST_CASE("a machine that asks once its rail is up lets little through before, and 5 V stand on a short",
          "[habits]") {
    // Common practice: 5 V and some tenths of an ampere on a short behind the path, no contract.
    const FaultInstance shorted{"capacitor_shorted", "cin", 0.1};
    const auto asks = seen(machine_with(chained, {Habit::asks_once_rail_is_up}, {shorted}), plugged("p1"));
    CHECK(asks.meter.pattern == MeterPattern::steady);
    CHECK(asks.meter.volts == Approx(5.0).margin(0.3));
    CHECK(asks.meter.amps == Approx(0.5).margin(0.15));
    const auto at_once = seen(machine_with(chained, {}, {shorted}), plugged("p1"));
    CHECK(at_once.meter.pattern != MeterPattern::steady);
    // Sound, it goes on to its contract.
    CHECK(seen(machine_with(chained, {Habit::asks_once_rail_is_up}), plugged("p1")).meter.volts > 19.0);
}

TEST_CASE("a rail follows its pack, and rests low without one, by habit", "[habits]") {
    const auto follows = seen(machine_with(chained, {Habit::rail_follows_pack}), plugged("p1"));
    CHECK(volts_at(follows, chained, "main") == Approx(7.4 + 0.2).margin(0.15));
    CHECK(volts_at(seen(machine_with(chained, {}), plugged("p1")), chained, "main") ==
          Approx(8.7).margin(0.1));
    const auto low = seen(machine_with(chained, {Habit::rail_rests_low_without_pack}), without_battery("p1"));
    CHECK(volts_at(low, chained, "main") == Approx(0.77 * 8.7).margin(0.1));
}

TEST_CASE("the board side of an empty battery connector shows the rail, or nothing where the gate waits",
          "[habits]") {
    const FaultInstance unseated{"battery_connector", "bat"};
    const auto closed = seen(machine_with(chained, {}, {unseated}), plugged("p1"));
    CHECK(volts_at(closed, chained, "vbat") > 5.0);
    const auto waits = seen(machine_with(chained, {Habit::gate_waits_for_pack}, {unseated}), plugged("p1"));
    CHECK(volts_at(waits, chained, "vbat") < 1.0);
}

TEST_CASE("a charger that is not enabled makes no rail, whatever its input", "[habits]") {
    const FaultInstance open{"charger_enable_open", "chgr"};
    const auto view = seen(machine_with(chained, {}, {open}), without_battery("p1"));
    CHECK(volts_at(view, chained, "chgin") > 19.0);
    CHECK(volts_at(view, chained, "chgen") < 0.3);
    CHECK(volts_at(view, chained, "main") < 0.5);
}

TEST_CASE("a bus line that is open behind its resistor leaves all ports of the chain at 5 V", "[habits]") {
    const FaultInstance open{"bus_data_open", "bl1"};
    for (const char* port : {"p1", "p2"})
        CHECK(seen(machine_with(chained, {}, {open}), plugged(port)).meter.volts == Approx(5.0).margin(0.3));
    const auto view = seen(machine_with(chained, {}, {open}), plugged("p1"));
    CHECK(volts_at(view, chained, "pdsda") > 3.0);
    CHECK(volts_at(view, chained, "pdsda1") < 0.3);
    CHECK(volts_at(view, chained, "pdscl1") > 3.0);
}

TEST_CASE("no converter feeds a short for ever", "[habits]") {
    // Found on benches of other makers: one gave its 8 A into 0.02 ohm, since what it draws was taken for
    // what it gives. It stops: no volts, and hardly any amps from the charger.
    for (const double ohms : {0.005, 0.02, 0.1, 0.3}) {
        CAPTURE(ohms);
        const FaultInstance at_rail{"capacitor_shorted", "cm", ohms, {}};
        for (const char* id : {chained, "barrel-sense"}) {
            const auto view = seen(machine_with(id, {}, {at_rail}), plugged("p1"));
            CHECK(volts_at(view, id, "main") < 0.1);
            CHECK(view.meter.amps < 0.15);
            CHECK(view.meter.pattern == MeterPattern::steady);
        }
    }
}

TEST_CASE("the 5 V rail of some makers is on while the machine runs", "[habits]") {
    const auto five_volts = [](std::initializer_list<Habit> habits) {
        return volts_at(seen(machine_with(chained, habits, {}), plugged("p1")), chained, "5vport");
    };
    CHECK(five_volts({}) > 4.8);
    CHECK(five_volts({Habit::five_volts_with_machine}) > 4.8);
    CHECK(five_volts({Habit::five_volts_with_machine, Habit::rests_until_pressed}) < 0.3);
    CHECK(five_volts({Habit::rests_until_pressed}) > 4.8);
    // Where the start waits for it, it cannot wait for the start.
    CHECK(five_volts({Habit::five_volts_with_machine, Habit::five_volts_gate_start}) > 4.8);
    // What only an attached device switches on is off on a machine that runs.
    CHECK(five_volts({Habit::five_volts_when_attached}) < 0.3);
    CHECK(five_volts({Habit::five_volts_when_attached, Habit::five_volts_gate_start}) > 4.8);
}

TEST_CASE("a pack that its protection switched off has 0 V at its contacts, and tells of itself",
          "[habits]") {
    const FaultInstance off{"battery_switched_off", "bat"};
    const auto view = seen(machine_with(chained, {Habit::gate_waits_for_pack}, {off}), plugged("p1"));
    CHECK(volts_at(view, chained, "vbat") < 0.3);
    CHECK(volts_at(view, chained, "main") > 6.0);
    CHECK(view.firmware == FirmwareMessage::not_charging);
    CHECK(view.battery_percent.value == Approx(0.0).margin(1.0));
}

TEST_CASE("kilohms in a CC wire let the charger see the machine, and drown their talk", "[habits]") {
    constexpr const char* subboard = "usbc-subboard";
    // Of 0.33 mA through these and 5.1 kilohms the charger sees 2.3 V: Rd, with half a volt lost on the way.
    const FaultInstance ohms{"flex_cc1_ohms", "flx", 1700.0};
    const auto drowned = seen(machine_with(subboard, {}, {ohms}), plugged("p1"));
    CHECK(drowned.meter.volts == Approx(5.0).margin(0.3));
    BenchConfiguration turned = plugged("p1");
    turned.side = PlugSide::b;
    CHECK(seen(machine_with(subboard, {}, {ohms}), turned).meter.volts > 19.0);
}

TEST_CASE("the rail comes back to the charger's input through a diode, and feeds a short there", "[habits]") {
    // Common practice: with the adapter away, the input of a step-down charger stands a diode below its rail.
    const std::vector<Habit> back{Habit::rail_follows_pack, Habit::rail_backs_into_input};
    BenchConfiguration unplugged = plugged("p1");
    unplugged.charger_connected = false;
    const auto fed = seen(machine_with(barrel, back), unplugged);
    CHECK(volts_at(fed, barrel, "main") - volts_at(fed, barrel, "chgin") == Approx(0.5).margin(0.15));
    CHECK(volts_at(seen(machine_with(barrel, {}), unplugged), barrel, "chgin") < 1.0);
    // One that steps up, too, blocks both ways.
    CHECK(volts_at(seen(machine_with(chained, back), unplugged), chained, "chgin") < 1.0);
    // It changes nothing where the charger's input is above the rail.
    CHECK(seen(machine_with(barrel, back), plugged("p1")).meter.amps ==
          Approx(seen(machine_with(barrel, {Habit::rail_follows_pack}), plugged("p1")).meter.amps)
              .epsilon(0.02));
    // A short at the input then takes the pack along, which parts from it.
    const auto shorted =
        seen(machine_with(barrel, back, {{"charger_circuit_shorted", "chg", 0.1}}), unplugged);
    CHECK(volts_at(shorted, barrel, "vbat") < 0.5);
    CHECK(volts_at(shorted, barrel, "main") < 0.5);
}

TEST_CASE("a charger that the always-on supply enables has its enable without its input", "[habits]") {
    const std::vector<Habit> pulled{Habit::enable_from_always_on};
    BenchConfiguration unplugged = plugged("p1");
    unplugged.charger_connected = false;
    CHECK(volts_at(seen(machine_with(chained, pulled), unplugged), chained, "chgen") ==
          Approx(3.0).margin(0.3));
    CHECK(volts_at(seen(machine_with(chained, {}), unplugged), chained, "chgen") < 0.5);
    // Its always-on supply then lives on the input, or a machine without a pack would never wake.
    CHECK(volts_at(seen(machine_with(chained, pulled), without_battery("p1")), chained, "main") > 6.0);
    const FaultInstance open{"charger_enable_open", "chgr"};
    const auto view = seen(machine_with(chained, pulled, {open}), without_battery("p1"));
    CHECK(volts_at(view, chained, "chgen") < 0.5);
    CHECK(volts_at(view, chained, "main") < 0.5);
}
