// SPDX-License-Identifier: GPL-3.0-or-later
// Chargers that let go under load or never talk, ground contacts with ohms, programs that serve several
// controllers, inputs that over-voltage has shorted, switches that are half on.
#include <cmath>

#include <catch2/catch.hpp>

#include "core/machine/model/net_index.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

struct Seen {
    Course course;
    PoweredView view;
};

Seen seen(const std::string& id, const std::vector<FaultInstance>& faults, const BenchConfiguration& bench) {
    const FittedPlan plan(shipped_knowledge(), topology(id));
    MachineModel model(plan, faults, {});
    DcSolver solver;
    Seen result{run_course(model, bench, solver), look_at(model, bench, solver)};
    REQUIRE(result.view.valid);
    return result;
}

double most_volts(const Course& course) {
    double most = 0.0;
    for (const Phase& phase : course.phases)
        most = std::max(most, phase.contract_volts);
    return most;
}

double volts_at(const Seen& seen, const std::string& id, const std::string& net) {
    return double{seen.view.net_volts[static_cast<std::size_t>(net_index(topology(id), net))]};
}

// With what the customer brought.
BenchConfiguration without_pack(const std::string& port = "p1") {
    BenchConfiguration bench = plugged(port);
    bench.battery_in = false;
    bench.charger = Owner::customer;
    bench.lead = Owner::customer;
    return bench;
}

}  // namespace

TEST_CASE("a charger that lets go under load gives its volts and comes back again and again", "[course]") {
    // Common practice: good at the meter, out at an ampere or two. Nothing loads it without the machine.
    for (const auto& [id, fault, block] : {std::tuple{chained, "charger_trips", "charger_usb-c"},
                                           std::tuple{"barrel-id", "adapter_trips", "charger_barrel"}}) {
        CAPTURE(id);
        BenchConfiguration bench = without_pack();
        bench.battery_in = true;  // charging takes more than it lets go at
        const Seen sound = seen(id, {}, bench);
        const Seen faulty = seen(id, {{fault, block}}, bench);
        CHECK_FALSE(sound.course.cycling);
        CHECK(most_volts(faulty.course) == Approx(most_volts(sound.course)));
        CHECK(faulty.course.cycling);
        // Of the shop's own charger it says nothing.
        bench.charger = Owner::bench;
        CHECK_FALSE(seen(id, {{fault, block}}, bench).course.cycling);
    }
}

TEST_CASE("a source that never talks stays at 5 V, and nothing is heard on the CC line", "[course][usbc]") {
    for (const FaultInstance& fault :
         {FaultInstance{"charger_mute", "charger_usb-c"}, FaultInstance{"cable_plain", "lead_usb-c"}}) {
        CAPTURE(fault.fault);
        const Seen faulty = seen(chained, {fault}, without_pack());
        CHECK(most_volts(faulty.course) == Approx(5.0));
        CHECK(faulty.course.talk == NegotiationEnd::silent);
        CHECK(faulty.view.meter.volts == Approx(5.0).margin(0.3));
    }
}

TEST_CASE("ohms in the ground contacts lift the CC line until the charger lets go", "[course][usbc]") {
    // USB Type-C (from memory): a source of 3 A takes more than 2.6 V at CC for an empty port; Rd of 5.1
    // kilohms makes 1.7 V of its 0.33 mA, so that 0.9 V over the ground contacts are enough. The same ohms in
    // the contacts for VBUS only cost volts.
    const auto with_ohms = [](const char* fault, double ohms) {
        BenchConfiguration bench = plugged("p1");
        return seen(chained, {{fault, "rec1", ohms}}, bench);
    };
    const Seen lifted = with_ohms("receptacle_ground_worn", 1.0);
    CHECK(most_volts(lifted.course) > 15.0);
    CHECK(lifted.course.cycling);
    const Seen dropped = with_ohms("receptacle_worn", 1.0);
    CHECK(most_volts(dropped.course) > 15.0);
    CHECK_FALSE(dropped.course.cycling);
    CHECK_FALSE(with_ohms("receptacle_ground_worn", 0.02).course.cycling);
}

TEST_CASE("another machine's program in the memory keeps all its controllers at 5 V", "[course]") {
    for (const char* port : {"p1", "p2"}) {
        CHECK(most_volts(seen(chained, {{"memory_wrong", "mem"}}, without_pack(port)).course) == Approx(5.0));
        // One controller's own program is its port's affair.
        const double own =
            most_volts(seen(chained, {{"controller_stuck_5v", "pc1"}}, without_pack(port)).course);
        CHECK(own == Approx(std::string(port) == "p1" ? 5.0 : 20.0));
    }
}

TEST_CASE("a CC input that is shorted is no Rd on its side of the plug", "[course][usbc]") {
    BenchConfiguration bench = without_pack();
    bench.side = PlugSide::a;
    CHECK(most_volts(seen(chained, {{"controller_cc1_short", "pc1"}}, bench).course) == Approx(0.0));
    bench.side = PlugSide::b;
    CHECK(most_volts(seen(chained, {{"controller_cc1_short", "pc1"}}, bench).course) > 15.0);
}

TEST_CASE("a shorted capacitor of a controller's core supply stops the controller", "[course]") {
    const Seen faulty = seen(chained, {{"core_capacitor_shorted", "oc1", 1.0}}, without_pack());
    CHECK(most_volts(faulty.course) == Approx(5.0));
    CHECK(volts_at(faulty, chained, "ldo1") < 0.1);
    CHECK(volts_at(faulty, chained, "vcc1") > 2.8);
}

TEST_CASE("a switch that is half on loses volts, and its gate stands nearer to its input",
          "[course][gates]") {
    const Seen sound = seen("usbc-dual", {}, without_pack());
    const Seen faulty = seen("usbc-dual", {{"switch_half_on", "sw1"}}, without_pack());
    const auto across = [&](const Seen& s) {
        return volts_at(s, "usbc-dual", "vbus1") - volts_at(s, "usbc-dual", "vin");
    };
    const auto driven = [&](const Seen& s) {
        return volts_at(s, "usbc-dual", "gate1") - volts_at(s, "usbc-dual", "vbus1");
    };
    CHECK(across(faulty) > across(sound) + 0.5);
    CHECK(std::abs(driven(faulty)) < 0.6 * std::abs(driven(sound)));
}
