// SPDX-License-Identifier: GPL-3.0-or-later
// How warm the parts of a sound machine are.
#include <algorithm>

#include <catch2/catch.hpp>

#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

struct Warmth {
    bool charging = false;
    double hottest_kelvin = 0.0;
};

Warmth warmth(const Topology& topology) {
    const FittedPlan plan(shipped_knowledge(), topology);
    MachineModel model(plan, {}, {});
    DcSolver solver;
    const PoweredView view = look_at(model, plugged(topology.ports.front().id), solver);
    return {view.firmware == FirmwareMessage::charging, double{hottest_part(view).kelvin}};
}

}  // namespace

TEST_CASE("a sound machine that charges is lukewarm all over", "[heat]") {
    // Common practice: a charging circuit at work is warm to the finger, not hot; what nobody can touch
    // (about 65 degrees, some 45 above a room) is a fault.
    int charging = 0;
    for (const Topology& topology : shipped_knowledge().topologies) {
        CAPTURE(topology.id);
        const Warmth seen = warmth(topology);
        charging += seen.charging ? 1 : 0;
        CHECK(seen.hottest_kelvin < 45.0);
    }
    CHECK(charging > 5);
}

TEST_CASE("what a conversion loses is spread, what a short takes is not", "[heat]") {
    Knowledge all_at_the_part = shipped_knowledge();
    for (BlockKind& kind : all_at_the_part.kinds)
        kind.conversion_heat_share = 1.0;
    const double share = shipped_knowledge().find_kind("charger_circuit")->conversion_heat_share;
    REQUIRE(share < 1.0);
    const auto watts = [&](const Knowledge& knowledge, const std::vector<FaultInstance>& faults) {
        const FittedPlan plan(knowledge, topology("usbc-dual"));
        MachineModel model(plan, faults, {});
        DcSolver solver;
        const Course course = run_course(model, plugged("p1"), solver);
        const MachinePlan& machine = plan;
        return model.block_watts(
            course.phases.back().node_volts)[static_cast<std::size_t>(machine.chargers.front())];
    };
    // All but the input's divider is conversion.
    const double sound = watts(all_at_the_part, {});
    CHECK(sound > 1.0);
    CHECK(watts(shipped_knowledge(), {}) == Approx(share * sound).epsilon(0.05));
    const std::vector<FaultInstance> shorted{{"charger_circuit_shorted", "chg", 0.5}};
    CHECK(watts(shipped_knowledge(), shorted) == Approx(watts(all_at_the_part, shorted)));
}
