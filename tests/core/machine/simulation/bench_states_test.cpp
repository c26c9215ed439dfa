// SPDX-License-Identifier: GPL-3.0-or-later
// What the bench does with plug, charger and button besides plugging in: a tester instead of the machine, a
// bare plug, a plug held to its good side, the power button.
#include <catch2/catch.hpp>

#include <cmath>
#include <set>

#include "core/inference/ranking.h"
#include "core/machine/model/net_index.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr const char* two_ports = "usbc-dual";

const MachinePlan& plan_named(const std::string& id) {
    return shared_table(id).plan();
}

PoweredView shown_by(const std::string& id, const std::vector<FaultInstance>& faults,
                     const BenchConfiguration& bench, const PartDraw& draw = {}) {
    MachineModel model(plan_named(id), faults, draw);
    DcSolver solver;
    PoweredView view = look_at(model, bench, solver);
    REQUIRE(view.valid);
    return view;
}

BenchConfiguration tester_bench(Tester tester) {
    BenchConfiguration bench = plugged("p1");
    bench.charger = bench.lead = Owner::customer;
    bench.tester = tester;
    return bench;
}

BenchConfiguration bare_plug(const std::string& port, PlugSide side = PlugSide::a) {
    BenchConfiguration bench = for_ohms();
    bench.port = port;
    bench.side = side;
    bench.bare_plug = true;
    return bench;
}

double ohms_met(const std::string& id, const std::vector<FaultInstance>& faults, const std::string& net,
                const BenchConfiguration& bench) {
    MachineModel model(plan_named(id), faults, {});
    DcSolver solver;
    model.configure(bench);
    return model.ohms_to_ground(net_index(topology(id), net), solver);
}

double ohms_between(const std::string& id, const std::vector<FaultInstance>& faults, const std::string& net,
                    const std::string& other, const BenchConfiguration& bench) {
    MachineModel model(plan_named(id), faults, {});
    DcSolver solver;
    model.configure(bench);
    return model.ohms_between(net_index(topology(id), net), net_index(topology(id), other), solver);
}

MeterSummary charger_alone(const std::vector<FaultInstance>& faults, Tester tester = Tester::loaded) {
    return shown_by(two_ports, faults, tester_bench(tester)).meter;
}

}  // namespace

TEST_CASE("a sound charger holds its volts at a tester, and gives 0.9 of what it promises",
          "[bench-states]") {
    const MeterSummary loaded = charger_alone({});
    CHECK(loaded.pattern == MeterPattern::steady);
    CHECK(loaded.volts > 18.5);
    double promised = 0.0;
    for (const ChargerOffer& offer : plan_named(two_ports).charger_spec(0).offers)
        promised = offer.volts > 19.0 ? offer.amps : promised;
    CHECK(loaded.amps <= 0.9 * promised * 1.01);
    CHECK(loaded.amps >= 0.9 * promised * 0.9);
    const MeterSummary idle = charger_alone({}, Tester::no_load);
    CHECK(idle.amps < 0.01);
    CHECK(idle.volts > loaded.volts);
}

TEST_CASE("what is wrong with charger or lead shows at a tester", "[bench-states]") {
    CHECK(charger_alone({{"charger_dead", "charger_usb-c"}}).pattern == MeterPattern::dark);
    CHECK(charger_alone({{"charger_5v_only", "charger_usb-c"}}).volts == Approx(5.0).epsilon(0.08));
    // Its own make decides whether it retries or stays off.
    const MeterSummary weak = charger_alone({{"charger_trips", "charger_usb-c"}});
    CHECK((weak.pattern == MeterPattern::cycling || weak.pattern == MeterPattern::flash));
    CHECK(charger_alone({{"charger_trips", "charger_usb-c"}}, Tester::no_load).pattern ==
          MeterPattern::steady);
}

TEST_CASE("nothing of the machine shows at a tester", "[bench-states]") {
    const MeterSummary sound = charger_alone({});
    for (const FaultInstance& fault :
         {FaultInstance{"receptacle_vbus_open", "rec1"}, FaultInstance{"capacitor_shorted", "cv1"}}) {
        const MeterSummary other = charger_alone({fault});
        CHECK(other.volts == Approx(sound.volts));
        CHECK(other.amps == Approx(sound.amps));
    }
}

TEST_CASE("through a bare plug a net is met behind the contact that leads to it", "[bench-states]") {
    const double on_board = ohms_met(two_ports, {}, "cc1_p1", for_ohms());
    CHECK(ohms_met(two_ports, {}, "cc1_p1", bare_plug("p1")) == Approx(on_board).epsilon(0.01));
    // Turned over, the plug's only CC contact leads to the other line, and the first one is met on the board.
    const FaultInstance cc1_open{"receptacle_cc1_open", "rec1"};
    CHECK(ohms_met(two_ports, {cc1_open}, "cc1_p1", bare_plug("p1")) > 1e6);
    CHECK(ohms_met(two_ports, {cc1_open}, "cc1_p1", for_ohms()) == Approx(on_board).epsilon(0.01));
    CHECK(ohms_met(two_ports, {cc1_open}, "cc2_p1", bare_plug("p1", PlugSide::b)) ==
          Approx(ohms_met(two_ports, {}, "cc2_p1", for_ohms())).epsilon(0.01));
    // Of the other port nothing changes.
    CHECK(ohms_met(two_ports, {cc1_open}, "cc1_p2", bare_plug("p1")) ==
          Approx(ohms_met(two_ports, {}, "cc1_p2", for_ohms())).epsilon(0.01));
}

TEST_CASE("from a plug to the board a contact is milliohms, and an open one is open", "[bench-states]") {
    const std::string vbus = topology(barrel).ports.front().vbus;
    CHECK(ohms_between(barrel, {}, vbus, vbus, bare_plug("p1")) < 0.2);
    CHECK(ohms_between(barrel, {{"jack_rest_open", "jack"}}, vbus, vbus, bare_plug("p1")) > 1e4);
    BenchConfiguration held = bare_plug("p1");
    held.plug_held = true;
    CHECK(ohms_between(barrel, {{"jack_rest_open", "jack"}}, vbus, vbus, held) < 0.2);
}

TEST_CASE("a plug held to its good side shows a sound machine where only that side makes contact",
          "[bench-states]") {
    const FaultInstance worn{"jack_rest_open", "jack"};
    BenchConfiguration held = plugged("p1");
    held.plug_held = true;
    CHECK(shown_by(barrel, {worn}, plugged("p1")).meter.amps < 0.01);
    const PoweredView sound = shown_by(barrel, {}, plugged("p1"));
    const PoweredView pushed = shown_by(barrel, {worn}, held);
    CHECK(pushed.meter.amps == Approx(sound.meter.amps));
    CHECK(pushed.meter.volts == Approx(sound.meter.volts));
    // What is torn off stays off.
    CHECK(shown_by(barrel, {{"jack_no_contact", "jack"}}, held).meter.amps < 0.01);
}

TEST_CASE(
    "a machine that rests until its button is pressed starts when it is, and any stays off that is kept off",
    "[bench-states]") {
    PartDraw draw;
    draw.habits = ByHabit<bool>{};
    (*draw.habits)[static_cast<std::size_t>(Habit::rests_until_pressed)] = true;
    BenchConfiguration pressed = plugged("p1");
    pressed.button = Button::pressed;
    CHECK(shown_by(two_ports, {}, plugged("p1"), draw).firmware == FirmwareMessage::none);
    CHECK(shown_by(two_ports, {}, pressed, draw).firmware == FirmwareMessage::charging);
    BenchConfiguration off = plugged("p1");
    off.button = Button::kept_off;
    const PoweredView resting = shown_by(two_ports, {}, off);
    CHECK(resting.firmware == FirmwareMessage::none);
    // It charges all the same, and draws less than a machine that runs as well.
    CHECK(resting.meter.amps > 0.5);
    CHECK(resting.meter.amps < shown_by(two_ports, {}, plugged("p1")).meter.amps);
}

TEST_CASE("in the first seconds a machine has not come to what it draws for good", "[bench-states]") {
    BenchConfiguration first = plugged("p1");
    first.moment = Moment::at_once;
    std::set<double> amps;
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
        PartDraw draw;
        draw.typical = false;
        draw.seed = seed;
        const PoweredView glance = shown_by(two_ports, {}, first, draw);
        const PoweredView settled = shown_by(two_ports, {}, plugged("p1"), draw);
        CHECK(glance.meter.amps <= settled.meter.amps + 0.6);  // starting takes its share for a while
        CHECK(glance.firmware == FirmwareMessage::none);
        amps.insert(std::round(10.0 * glance.meter.amps));
    }
    CHECK(amps.size() > 2);  // neither people nor machines are equally quick
    // Where nothing ever changes, the first seconds show what the last ones do.
    const std::vector<FaultInstance> broken_off{{"jack_no_contact", "jack"}};
    const PoweredView glance = shown_by(barrel, broken_off, first);
    const PoweredView settled = shown_by(barrel, broken_off, plugged("p1"));
    CHECK(glance.meter.volts == Approx(settled.meter.volts).margin(0.05));
    CHECK(glance.meter.amps == Approx(settled.meter.amps).margin(0.02));
}

TEST_CASE("little in the first seconds and much later on is a course, and no contradiction",
          "[bench-states][likelihood]") {
    BenchConfiguration first = plugged("p1");
    first.moment = Moment::at_once;
    const Reading later = meter_reading("b", plugged("p1"), MeterPattern::steady, 19.8, 1.8);
    const auto nothing_wrong = [&](const BenchConfiguration& when) {
        PredictionTable& table = shared_table(two_ports);
        const Ranking ranking = rank(table, priors_of(table.hypotheses()),
                                     {meter_reading("a", when, MeterPattern::steady, 20.0, 0.05), later});
        double probability = 0.0;
        for (const Suspicion& suspicion : ranking.suspicions) {
            const Hypothesis& hypothesis = table.hypotheses()[suspicion.hypothesis];
            probability += hypothesis.kind == HypothesisKind::nothing_wrong ? suspicion.probability : 0.0;
        }
        return probability;
    };
    CHECK(nothing_wrong(first) > nothing_wrong(plugged("p1")));
}

TEST_CASE("a pack by itself shows its cells, and nothing where its protection sleeps", "[bench-states]") {
    const PlanBlock& pack =
        plan_named(two_ports).blocks[static_cast<std::size_t>(plan_named(two_ports).pack)];
    const double nominal =
        plan_named(two_ports)
            .slot_values[static_cast<std::size_t>(pack.param_slots.at("open_circuit_volts"))];
    for (const std::uint64_t seed : {1U, 2U, 3U, 4U, 5U, 6U, 7U, 8U}) {
        PartDraw draw;
        draw.typical = false;
        draw.seed = seed;
        const MachineModel sound(plan_named(two_ports), {}, draw);
        MachineModel model = sound;
        model.configure(for_ohms());
        const double volts = model.pack_alone_volts();
        // Common practice: 2.4 to 4.35 V a cell of 3.7 V.
        CHECK((volts == 0.0 || (volts > nominal * 2.3 / 3.7 && volts < nominal * 4.4 / 3.7)));
        MachineModel asleep(plan_named(two_ports), {{"battery_switched_off", "bat"}}, draw);
        asleep.configure(for_ohms());
        CHECK(asleep.pack_alone_volts() == 0.0);
    }
}
