// SPDX-License-Identifier: GPL-3.0-or-later
// The machine model against what technicians see (common practice: the meter table of the trade) and against
// ngspice.
#include "core/machine/simulation/machine_model.h"
#include "core/machine/simulation/known_ohms.h"

#include <algorithm>
#include <cmath>

#include "core/machine/model/fault_reach.h"
#include "core/machine/simulation/observation.h"
#include "core/prediction/hypothesis.h"
#include "tests/support/ngspice.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

PoweredView view_of(const std::string& topology_id, const std::vector<FaultInstance>& faults,
                    const BenchConfiguration& configuration) {
    const FittedPlan plan(shipped_knowledge(), topology(topology_id));
    MachineModel model(plan, faults, {});
    DcSolver solver;
    PoweredView view = look_at(model, configuration, solver);
    REQUIRE(view.valid);
    return view;
}

double ohms_of(const std::string& topology_id, const std::vector<FaultInstance>& faults,
               const std::string& net, const std::vector<std::string>& removed = {}) {
    const Topology& machine = topology(topology_id);
    const FittedPlan plan(shipped_knowledge(), machine);
    MachineModel model(plan, faults, {});
    DcSolver solver;
    BenchConfiguration configuration = for_ohms();
    configuration.removed = removed;
    model.configure(configuration);
    for (std::size_t n = 0; n < machine.nets.size(); ++n) {
        if (machine.nets[n].id == net)
            return model.ohms_to_ground(static_cast<int>(n), solver);
    }
    FAIL("no net " << net);
    return 0.0;
}

}  // namespace

TEST_CASE("without its ID line a barrel machine runs but does not charge and does not know the adapter",
          "[machine]") {
    // Common practice.
    for (const auto& fault :
         {FaultInstance{"jack_id_contact", "jack"}, FaultInstance{"harness_id_open", "har"}}) {
        const PoweredView view = view_of(barrel, {fault}, plugged("p1"));
        const PoweredView sound = view_of(barrel, {}, plugged("p1"));
        CAPTURE(fault.fault);
        CHECK(view.firmware == FirmwareMessage::adapter_unknown);
        CHECK(view.meter.volts > 18.5);
        CHECK(view.meter.amps > 0.3);
        CHECK(view.meter.amps < 0.6 * sound.meter.amps);
    }
}

TEST_CASE("the readings of the trade's meter table come out of the model", "[machine]") {
    struct Row {
        const char* what;
        FaultInstance fault;
        BenchConfiguration configuration;
        MeterPattern pattern;
        double low_volts, high_volts, low_amps, high_amps;
    };
    // Common practice: readings and their usual meaning.
    const std::vector<Row> rows{
        {"an unread memory holds 5 V with a small steady current",
         {"memory_unreadable", "mem"},
         plugged("p1"),
         MeterPattern::steady,
         4.7,
         5.3,
         0.02,
         0.3},
        {"one dead controller of a chain holds the other port at 5 V too",
         {"controller_dead", "pc2"},
         plugged("p1"),
         MeterPattern::steady,
         4.7,
         5.3,
         0.0,
         0.3},
        {"20 V, stuck near 0.1 A: the board does not start",
         {"mainboard_no_start", "mb"},
         plugged("p1"),
         MeterPattern::steady,
         18.5,
         21.0,
         0.05,
         0.25},
        {"20 V and next to no current: a hung embedded controller",
         {"ec_hung", "ec"},
         plugged("p1"),
         MeterPattern::steady,
         18.5,
         21.0,
         0.0,
         0.05},
        {"no Rd: dark", {"controller_no_rd", "pc1"}, plugged("p1"), MeterPattern::dark, 0, 0, 0, 0},
        {"a full battery: 20 V and only what the machine draws",
         {"battery_full", "bat"},
         plugged("p1"),
         MeterPattern::steady,
         18.5,
         21.0,
         0.3,
         0.9},
    };
    for (const Row& row : rows) {
        const PoweredView view = view_of(chained, {row.fault}, row.configuration);
        CAPTURE(row.what, view.meter.volts, view.meter.amps, to_text(view.meter.pattern));
        CHECK(view.meter.pattern == row.pattern);
        if (row.pattern == MeterPattern::dark)
            continue;
        CHECK(view.meter.volts >= row.low_volts);
        CHECK(view.meter.volts <= row.high_volts);
        CHECK(view.meter.amps >= row.low_amps);
        CHECK(view.meter.amps <= row.high_amps);
    }
}

TEST_CASE("an open CC contact is dark one way up and fine turned over", "[machine]") {
    const FaultInstance fault{"receptacle_cc1_open", "rec1"};
    CHECK(view_of(chained, {fault}, plugged("p1", PlugSide::a)).meter.pattern == MeterPattern::dark);
    CHECK(view_of(chained, {fault}, plugged("p1", PlugSide::b)).meter.volts > 18.5);
    CHECK(view_of(chained, {fault}, plugged("p2", PlugSide::a)).meter.volts > 18.5);
}

TEST_CASE("a short on one port leaves the other port alone", "[machine]") {
    const FaultInstance fault{"protector_shorted", "sp2", 3.3, 3.0};
    CHECK(view_of(chained, {fault}, plugged("p1")).meter.volts > 18.5);
    CHECK(view_of(chained, {fault}, plugged("p2")).meter.volts < 5.5);
}

TEST_CASE("a short that grows with volts is worse under the charger than at the ohmmeter", "[machine]") {
    // Common practice: a few ohms at the ohmmeter, less under load, and a source overloaded.
    const FaultInstance growing{"protector_shorted", "sp2", 3.3, 3.0};
    CHECK(ohms_of(chained, {growing}, "vbus2") == Approx(3.3).epsilon(0.02));
    const PoweredView view = view_of(chained, {growing}, plugged("p2"));
    CAPTURE(view.meter.volts, view.meter.amps);
    CHECK(view.meter.pattern == MeterPattern::cycling);
    CHECK(view.meter.volts / view.meter.amps < 0.6 * 3.3);
}

TEST_CASE("ohms: healthy VBUS is high, a short shows its ohms and leaves with the part", "[machine]") {
    // Common practice: healthy VBUS reads open or climbs above 100 k.
    CHECK(ohms_of(chained, {}, "vbus1") > 1e5);
    const FaultInstance fault{"capacitor_shorted", "cv1", 1.2};
    CHECK(ohms_of(chained, {fault}, "vbus1") == Approx(1.2).epsilon(0.01));
    CHECK(ohms_of(chained, {fault}, "vbus1", {"cv1"}) > 1e5);
    CHECK(ohms_of(chained, {fault}, "vbus2") > 1e5);
}

TEST_CASE("a processor rail near one ohm is healthy", "[machine]") {
    // Common practice: the trap of big processor rails.
    const double ohms = ohms_of(chained, {}, "core");
    CHECK(ohms > 0.3);
    CHECK(ohms < 3.0);
}

TEST_CASE("a processor rail stands near 0.9 V on a machine that starts, and at nothing on one that does not",
          "[machine]") {
    // Common practice: processor rails of 0.7 to 1.1 V, there once the machine starts.
    const auto core_volts = [](const std::vector<FaultInstance>& faults,
                               const BenchConfiguration& configuration) {
        const Topology& machine = topology(chained);
        const PoweredView view = view_of(chained, faults, configuration);
        const auto net = std::find_if(machine.nets.begin(), machine.nets.end(),
                                      [](const Net& n) { return n.id == "core"; });
        REQUIRE(net != machine.nets.end());
        return static_cast<double>(view.net_volts[static_cast<std::size_t>(net - machine.nets.begin())]);
    };
    CHECK(core_volts({}, plugged("p1")) > 0.7);
    CHECK(core_volts({}, plugged("p1")) < 1.1);
    CHECK(core_volts({}, for_ohms()) == Approx(0.0).margin(0.02));
    CHECK(core_volts({{"mainboard_no_start", "mb"}}, plugged("p1")) == Approx(0.0).margin(0.02));
}

TEST_CASE("what was replaced no longer counts, and the customer's faults leave with the shop's gear",
          "[machine]") {
    BenchConfiguration repaired = plugged("p1");
    repaired.replaced = {"mem"};
    CHECK(view_of(chained, {{"memory_unreadable", "mem"}}, repaired).meter.volts > 18.5);
    const FaultInstance dead_charger{"charger_dead", charger_block_id("usb-c")};
    BenchConfiguration customers = plugged("p1");
    customers.charger = Owner::customer;
    CHECK(view_of(chained, {dead_charger}, plugged("p1")).meter.volts > 18.5);
    CHECK(view_of(chained, {dead_charger}, customers).meter.pattern == MeterPattern::dark);
}

TEST_CASE("the same seed draws the same machine, another seed another one", "[machine]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    const auto amps = [&](std::uint64_t seed) {
        PartDraw draw;
        draw.typical = false;
        draw.seed = seed;
        MachineModel model(plan, {}, draw);
        DcSolver solver;
        return look_at(model, plugged("p1"), solver).meter.amps;
    };
    CHECK(amps(5) == amps(5));
    CHECK(amps(5) != amps(6));
}

TEST_CASE("changing one resistance in a topology's kinds moves what the meter shows", "[machine]") {
    Knowledge changed = shipped_knowledge();
    for (BlockKind& kind : changed.kinds) {
        for (ElementSpec& element : kind.elements) {
            if (kind.id == "usbc_receptacle" && element.name == "contact")
                element.values["ohms"].number = 0.5;
        }
    }
    const FittedPlan plan(changed, *changed.find_topology(chained));
    MachineModel model(plan, {}, {});
    DcSolver solver;
    const PoweredView worn = look_at(model, plugged("p1"), solver);
    const PoweredView sound = view_of(chained, {}, plugged("p1"));
    const auto at_inlet = [](const PoweredView& view) { return view.net_volts[0]; };
    // Half an ohm at the machine's current, less the contact's own 30 milliohm.
    CHECK(at_inlet(sound) - at_inlet(worn) == Approx(0.47 * worn.meter.amps).epsilon(0.05));
}

TEST_CASE("operating points of whole machines agree with ngspice, sound and faulty", "[machine][ngspice]") {
    struct Row {
        const char* topology_id;
        std::vector<FaultInstance> faults;
    };
    const std::vector<Row> rows{{chained, {}},
                                {chained, {{"controller_supply_short", "pc1"}}},
                                {chained, {{"receptacle_worn", "rec1"}}},
                                {chained, {{"buck_output_shorted", "s5v"}}},
                                {barrel, {}},
                                {barrel, {{"jack_id_contact", "jack"}}},
                                {barrel, {{"buck_shorted_through", "s5v"}}}};
    for (const Row& row : rows) {
        const FittedPlan plan(shipped_knowledge(), topology(row.topology_id));
        MachineModel model(plan, row.faults, {});
        DcSolver solver;
        const Course course = run_course(model, plugged("p1"), solver);
        REQUIRE(course.settled);
        // The circuit stands as the course left it.
        require_agreement(model.circuit(), std::string("machine ") + row.topology_id, 1e-4, 1e-4, 0.999);
    }
}

TEST_CASE("every fault of every topology has a course that ends or repeats", "[machine]") {
    for (const Topology& machine : shipped_knowledge().topologies) {
        const FittedPlan plan(shipped_knowledge(), machine);
        for (const PlanBlock& block : plan.blocks) {
            for (const FaultSpec& fault : shipped_knowledge().catalogue.faults) {
                if (fault.kind != block.kind->id)
                    continue;
                MachineModel model(plan, {{fault.id, block.id}}, {});
                DcSolver solver;
                BenchConfiguration configuration = plugged(machine.ports.front().id);
                configuration.charger = Owner::customer;
                configuration.lead = Owner::customer;
                const Course course = run_course(model, configuration, solver);
                CAPTURE(machine.id, fault.id, block.id);
                CHECK_FALSE(course.solver_failed);
                CHECK((course.settled || course.cycling));
            }
        }
    }
}

namespace {

// One fault that brings about another may be hidden where the other is not: a dead charger that is not
// plugged in leaves an empty pack.
bool any_can_show(const MachinePlan& plan, const Hypothesis& hypothesis,
                  const BenchConfiguration& configuration, bool powered) {
    return std::any_of(hypothesis.faults.begin(), hypothesis.faults.end(), [&](const FaultInstance& fault) {
        return fault_can_show(plan, fault, configuration, powered);
    });
}

}  // namespace

TEST_CASE("where a fault is said not to show, the machine with it behaves as the sound one", "[machine]") {
    // The shortcut against the model itself: every fault of the catalogue, several configurations.
    for (const char* id : {chained, barrel}) {
        const FittedPlan plan(shipped_knowledge(), topology(id));
        std::vector<BenchConfiguration> configurations;
        for (const Port& port : plan.topology().ports) {
            configurations.push_back(plugged(port.id, PlugSide::a));
            configurations.push_back(plugged(port.id, PlugSide::b));
        }
        configurations.push_back(configurations.front());
        configurations.back().charger = Owner::customer;
        DcSolver solver;
        int hidden = 0;
        for (const BenchConfiguration& configuration : configurations) {
            PartDraw draw;
            draw.typical = false;
            draw.seed = 5;
            MachineModel sound(plan, {}, draw);
            const PoweredView wanted = look_at(sound, configuration, solver);
            for (const Hypothesis& hypothesis : make_hypotheses(plan, {})) {
                if (hypothesis.faults.empty() || any_can_show(plan, hypothesis, configuration, true))
                    continue;
                ++hidden;
                MachineModel faulty(plan, hypothesis.faults, draw);
                const PoweredView seen = look_at(faulty, configuration, solver);
                CAPTURE(id, hypothesis_title(hypothesis, plan));
                CHECK(seen.meter.pattern == wanted.meter.pattern);
                CHECK(seen.meter.volts == Approx(wanted.meter.volts).margin(1e-6));
                CHECK(seen.meter.amps == Approx(wanted.meter.amps).margin(1e-6));
                CHECK(seen.firmware == wanted.firmware);
                CHECK(seen.drop_probability == wanted.drop_probability);
            }
        }
        CHECK(hidden > 10);
        MachineModel sound(plan, {}, {});
        sound.configure(for_ohms());
        for (const Hypothesis& hypothesis : make_hypotheses(plan, {})) {
            if (hypothesis.faults.empty() || any_can_show(plan, hypothesis, for_ohms(), false))
                continue;
            MachineModel faulty(plan, hypothesis.faults, {});
            faulty.configure(for_ohms());
            for (int net = 0; net < static_cast<int>(plan.topology().nets.size()); ++net) {
                const double wanted = sound.ohms_to_ground(net, solver);
                const double seen = faulty.ohms_to_ground(net, solver);
                CAPTURE(id, hypothesis_title(hypothesis, plan), net);
                CHECK((seen == wanted || seen == Approx(wanted)));
            }
        }
    }
}

TEST_CASE("starting from the sound machine's operating points changes no prediction", "[machine]") {
    for (const char* id : {chained, barrel}) {
        const FittedPlan plan(shipped_knowledge(), topology(id));
        const BenchConfiguration configuration = plugged(plan.topology().ports.front().id);
        DcSolver solver;
        PartDraw draw;
        draw.typical = false;
        draw.seed = 9;
        OperatingPoints points;
        CourseOptions learning;
        learning.learned = &points;
        MachineModel sound(plan, {}, draw);
        (void)look_at(sound, configuration, solver, learning);
        CourseOptions using_points;
        using_points.sound = &points;
        for (const Hypothesis& hypothesis : make_hypotheses(plan, {})) {
            if (hypothesis.faults.empty())
                continue;
            MachineModel model(plan, hypothesis.faults, draw);
            const PoweredView alone = look_at(model, configuration, solver);
            const PoweredView helped = look_at(model, configuration, solver, using_points);
            CAPTURE(id, hypothesis_title(hypothesis, plan));
            REQUIRE(alone.valid == helped.valid);
            CHECK(alone.meter.pattern == helped.meter.pattern);
            CHECK(alone.meter.volts == Approx(helped.meter.volts).margin(1e-4));
            CHECK(alone.meter.amps == Approx(helped.meter.amps).margin(1e-4));
            CHECK(alone.firmware == helped.firmware);
            for (std::size_t n = 0; n < alone.net_volts.size(); ++n)
                CHECK(alone.net_volts[n] == Approx(helped.net_volts[n]).margin(1e-3));
        }
    }
}

TEST_CASE("a machine that is known to stand on its pack takes the plug as one that came up to it",
          "[machine]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    DcSolver solver;
    PartDraw draw;
    draw.typical = false;
    draw.seed = 9;
    draw.pack_empty = false;
    int stood = 0;
    for (const Hypothesis& hypothesis : make_hypotheses(plan, {})) {
        MachineModel model(plan, hypothesis.faults, draw);
        StandingMachine standing;
        CourseOptions remembering;
        remembering.standing = &standing;
        for (const char* port : {"p1", "p2"}) {
            const PoweredView alone = look_at(model, plugged(port), solver);
            const PoweredView standing_first = look_at(model, plugged(port), solver, remembering);
            CAPTURE(port, hypothesis_title(hypothesis, plan));
            REQUIRE(alone.valid == standing_first.valid);
            CHECK(alone.meter.pattern == standing_first.meter.pattern);
            CHECK(alone.meter.volts == Approx(standing_first.meter.volts).margin(1e-4));
            CHECK(alone.meter.amps == Approx(standing_first.meter.amps).margin(1e-4));
            CHECK(alone.firmware == standing_first.firmware);
        }
        stood += standing.volts.empty() ? 0 : 1;
    }
    CHECK(stood > 20);
}
