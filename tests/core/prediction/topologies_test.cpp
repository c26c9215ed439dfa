// SPDX-License-Identifier: GPL-3.0-or-later
// Every shipped topology as a whole. Figures: USB Power Delivery 3 (20 V within 5 % at the source, 0.75 V
// lost in the lead at most; from memory) and common practice (the meter table of the trade).
#include <cmath>
#include <set>

#include "core/inference/ranking.h"
#include "core/machine/model/net_index.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "core/prediction/hypothesis.h"
#include "tests/support/ngspice.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

const auto& all() {
    return shipped_knowledge().topologies;
}

}  // namespace

TEST_CASE("the ways to build a charging path that technicians meet are there", "[topologies]") {
    CHECK(all().size() >= 10);
    CHECK(shipped_knowledge().catalogue.faults.size() >= 60);
    for (const char* id :
         {"usbc-two-chained", "usbc-three-chained", "usbc-four-chained", "usbc-chained-magnetic", "usbc-dual",
          "usbc-chained-adapter-rail", "usbc-subboard", "barrel-id", "barrel-sense", "barrel-plus-usbc",
          "usbc-single", "usbc-three-apart", "usbc-four-pairs", "usbc-subboard-pair", "usbc-extended-range",
          "barrel-harness"}) {
        CAPTURE(id);
        CHECK(shipped_knowledge().find_topology(id) != nullptr);
    }
}

TEST_CASE("a sound machine charges at each of its ports, either way up", "[topologies]") {
    for (const Topology& machine : all()) {
        const FittedPlan plan(shipped_knowledge(), machine);
        DcSolver solver;
        for (const Port& port : machine.ports) {
            for (const PlugSide side : {PlugSide::a, PlugSide::b}) {
                CAPTURE(machine.id, port.id, side == PlugSide::a);
                MachineModel model(plan, {}, {});
                const PoweredView view = look_at(model, plugged(port.id, side), solver);
                REQUIRE(view.valid);
                CHECK(view.meter.pattern == MeterPattern::steady);
                CHECK(view.meter.volts > machine.wanted_volts - 1.5);
                CHECK(view.meter.volts < 1.05 * machine.wanted_volts);
                CHECK(view.meter.amps > 1.0);
                CHECK(view.meter.amps < plan.charger_spec(plan.port_index(port.id)).offers.back().amps);
                CHECK(view.firmware == FirmwareMessage::charging);
                // The rail stands where the topology says that it does when everything works.
                const int rail = net_index(machine, machine.system_rail);
                CHECK(view.net_volts[static_cast<std::size_t>(rail)] ==
                      Approx(machine.nets[static_cast<std::size_t>(rail)].volts).epsilon(0.06));
            }
        }
    }
}

TEST_CASE("no net of a sound machine looks shorted, but the processor's own rail", "[topologies]") {
    for (const Topology& machine : all()) {
        const FittedPlan plan(shipped_knowledge(), machine);
        MachineModel model(plan, {}, {});
        model.configure(for_ohms());
        DcSolver solver;
        for (std::size_t n = 0; n < machine.nets.size(); ++n) {
            CAPTURE(machine.id, machine.nets[n].id);
            const double ohms = model.ohms_to_ground(static_cast<int>(n), solver);
            REQUIRE_FALSE(std::isnan(ohms));
            if (machine.nets[n].id == "core")
                CHECK(ohms < 5.0);
            else
                CHECK(ohms > 1000.0);
        }
    }
}

TEST_CASE("a shorted inlet capacitor is a short on that port alone and no source holds its volts",
          "[topologies]") {
    for (const Topology& machine : all()) {
        const FittedPlan plan(shipped_knowledge(), machine);
        DcSolver solver;
        for (const Block& block : machine.blocks) {
            if (block.kind != "capacitor" || block.id.rfind("cv", 0) != 0)
                continue;
            CAPTURE(machine.id, block.id);
            MachineModel model(plan, {{"capacitor_shorted", block.id, 0.8}}, {});
            model.configure(for_ohms());
            for (const Port& port : machine.ports) {
                const double ohms = model.ohms_to_ground(net_index(machine, port.vbus), solver);
                if (port.id == block.port)
                    CHECK(ohms == Approx(0.8).epsilon(0.01));
                else
                    CHECK(ohms > 1000.0);
            }
            const PoweredView view = look_at(model, plugged(block.port), solver);
            const bool charges = view.meter.pattern == MeterPattern::steady && view.meter.volts > 15.0;
            CHECK_FALSE(charges);
        }
    }
}

TEST_CASE("each topology's circuit agrees with ngspice, sound and with a fault in each third kind of part",
          "[topologies][ngspice]") {
    for (const Topology& machine : all()) {
        const FittedPlan plan(shipped_knowledge(), machine);
        std::vector<std::vector<FaultInstance>> machines{{}};
        std::set<std::string> kinds;
        for (const Hypothesis& hypothesis : make_hypotheses(plan, {})) {
            if (hypothesis.faults.empty())
                continue;
            const int block = plan.find_block(hypothesis.faults.front().block);
            const auto fresh = kinds.insert(plan.blocks[static_cast<std::size_t>(block)].kind->id).second;
            if (fresh && kinds.size() % 3 == 0)
                machines.push_back(hypothesis.faults);
        }
        for (const auto& faults : machines) {
            MachineModel model(plan, faults, {});
            DcSolver solver;
            const Course course = run_course(model, plugged(machine.ports.front().id), solver);
            const std::string name =
                machine.id + (faults.empty() ? std::string() : ", " + faults.front().fault);
            CAPTURE(name);
            // A machine that cycles stands in one of its phases; that is as good a circuit as any.
            REQUIRE_FALSE(course.solver_failed);
            require_agreement(model.circuit(), name, 1e-4, 1e-4, 0.999);
        }
    }
}

TEST_CASE("contradicting and absurd readings give shares, never NaN, on every topology", "[topologies]") {
    for (const Topology& machine : all()) {
        if (machine.ports.size() > 2)
            continue;  // the same code; their tables take longer
        const FittedPlan plan(shipped_knowledge(), machine);
        PredictionOptions few;
        few.samples = 3;
        PredictionTable table(plan, make_hypotheses(plan, {}), few);
        const std::string port = machine.ports.front().id;
        const std::string vbus = machine.ports.front().vbus;
        const std::vector<Reading> readings{
            meter_reading("a", plugged(port), MeterPattern::steady, 20.0, 2.0),
            meter_reading("b", plugged(port), MeterPattern::dark),
            ohms_reading("c", for_ohms(), vbus, 0.0),
            open_reading("d", for_ohms(), vbus),
            ohms_reading("e", for_ohms(), vbus, 1e9),
            meter_reading("f", plugged(port), MeterPattern::flash, 0, 0),
            meter_reading("g", plugged(port), MeterPattern::cycling, 900.0, 90.0)};
        const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
        double total = 0.0;
        for (const Suspicion& suspicion : ranking.suspicions) {
            REQUIRE(std::isfinite(suspicion.probability));
            for (const Evidence& evidence : suspicion.evidence)
                REQUIRE(std::isfinite(evidence.weight));
            total += suspicion.probability;
        }
        CHECK(total == Approx(1.0));
        CHECK_FALSE(ranking.odd.empty());
    }
}

TEST_CASE("a lead that is not marked for 5 A holds a 100 W charger to 3 A", "[machine]") {
    // USB Type-C, from memory: 3 A without, 5 A with an electronically marked cable.
    const FittedPlan plan(shipped_knowledge(), topology("usbc-chained-100w"));
    DcSolver solver;
    BenchConfiguration own = plugged("p1");
    own.lead = Owner::customer;
    const FaultInstance unmarked{"cable_no_marker", lead_block_id("usb-c")};
    MachineModel model(plan, {unmarked}, {});
    const PoweredView held = look_at(model, own, solver);
    const PoweredView free = look_at(model, plugged("p1"), solver);
    CHECK(held.firmware == FirmwareMessage::charging);
    CHECK(held.meter.amps < 3.0);
    CHECK(free.meter.amps > 3.6);
    CHECK(free.meter.amps < 5.0);
    CHECK(held.meter.volts > 19.0);
}
