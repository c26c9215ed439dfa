// SPDX-License-Identifier: GPL-3.0-or-later
// A source that folds back has two operating points beside a converter's constant power; a machine that comes
// from full volts stands at the upper one (docs/decisions/103-the-upper-of-two-points.md). So whatever the
// charger can feed looks the same on one that folds back, one that retries and one that latches.
#include <catch2/catch.hpp>

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

TEST_CASE("how a charger protects itself shows on no machine that it can feed", "[course]") {
    // Enough makers that some have two points: without decision 103 three of these seeds are found at the
    // lower.
    constexpr std::uint64_t seeds = 32;
    for (const char* id : {"usbc-two-chained", "usbc-subboard"}) {
        const MachinePlan& plan = shared_table(id).plan();
        for (const bool leaks : {false, true}) {
            const std::vector<FaultInstance> faults =
                leaks ? std::vector<FaultInstance>{{"capacitor_shorted", "cv1", 100.0}}
                      : std::vector<FaultInstance>{};
            for (const bool battery_in : {true, false}) {
                BenchConfiguration bench = plugged(plan.topology().ports.front().id);
                bench.battery_in = battery_in;
                for (std::uint64_t seed = 1; seed <= seeds; ++seed) {
                    INFO(id << ", leak " << leaks << ", battery " << battery_in << ", seed " << seed);
                    check_alike(plan, faults, bench, seed);
                }
            }
        }
    }
}
