// SPDX-License-Identifier: GPL-3.0-or-later
// A source that folds back has two operating points beside a converter's constant power; a machine that comes
// from full volts stands at the upper one (docs/decisions/103-the-upper-of-two-points.md). So whatever the
// charger can feed looks the same on one that folds back, one that retries and one that latches.
#include <catch2/catch.hpp>

#include <cmath>

#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

PoweredView seen_with(Protection protection, const MachinePlan& plan,
                      const std::vector<FaultInstance>& faults, const BenchConfiguration& bench,
                      std::uint64_t seed) {
    PartDraw draw;
    draw.typical = false;
    draw.seed = seed;
    draw.protection = protection;
    MachineModel model(plan, faults, draw);
    DcSolver solver;
    return look_at(model, bench, solver);
}

void check_alike(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                 const BenchConfiguration& bench, std::uint64_t seed) {
    const PoweredView folding = seen_with(Protection::foldback, plan, faults, bench, seed);
    for (const Protection protection : {Protection::hiccup, Protection::latched}) {
        const PoweredView other = seen_with(protection, plan, faults, bench, seed);
        CHECK(folding.meter.pattern == other.meter.pattern);
        CHECK(folding.meter.volts == Approx(other.meter.volts).epsilon(1e-4));
        CHECK(folding.meter.amps == Approx(other.meter.amps).epsilon(1e-3).margin(1e-4));
        CHECK(folding.firmware == other.firmware);
    }
}

}  // namespace

TEST_CASE("how a charger protects itself shows on no sound machine", "[course]") {
    for (const char* id : {"usbc-two-chained", "usbc-dual", "barrel-id", "barrel-plus-usbc"}) {
        const MachinePlan& plan = shared_table(id).plan();
        for (const Port& port : plan.topology().ports) {
            for (std::uint64_t seed = 1; seed <= 6; ++seed) {
                INFO(id << ", " << port.id << ", seed " << seed);
                check_alike(plan, {}, plugged(port.id), seed);
            }
        }
    }
}

TEST_CASE("a load that the charger can feed stands at full volts however it protects itself", "[course]") {
    const MachinePlan& plan = shared_table(chained).plan();
    for (const double ohms : {100.0, 300.0, 1000.0}) {
        for (std::uint64_t seed = 1; seed <= 6; ++seed) {
            INFO(ohms << " ohms, seed " << seed);
            check_alike(plan, {{"capacitor_shorted", "cv1", ohms}}, plugged("p1"), seed);
        }
    }
}
