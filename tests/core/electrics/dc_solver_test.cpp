// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/dc_solver.h"

#include <cmath>

#include "core/base/random.h"

using namespace eh;

TEST_CASE("a floating node is reported by name, not solved", "[electrics]") {
    Circuit c;
    c.add("v", VoltageSource{c.node("in"), ground, 5.0});
    c.add("r", Resistor{c.node("adrift"), c.node("alone"), 100.0});
    const Solution solution = DcSolver().solve(c);
    CHECK(solution.status == SolveStatus::floating_node);
    CHECK(solution.node == "adrift");
    CHECK(solution.node_volts.empty());
    CHECK_THAT(solution.problem(), Catch::Contains("adrift"));
}

TEST_CASE("a node that only a current source touches is floating", "[electrics]") {
    Circuit c;
    c.add("i", CurrentSource{ground, c.node("pushed"), 1.0});
    const Solution solution = DcSolver().solve(c);
    CHECK(solution.status == SolveStatus::floating_node);
    CHECK(solution.node == "pushed");
}

TEST_CASE("two ideal sources that fight are reported as singular", "[electrics]") {
    Circuit c;
    c.add("v1", VoltageSource{c.node("a"), ground, 5.0});
    c.add("v2", VoltageSource{c.node("a"), ground, 3.3});
    c.add("r", Resistor{c.node("a"), ground, 10.0});
    const Solution solution = DcSolver().solve(c);
    CHECK(solution.status == SolveStatus::singular);
    CHECK_FALSE(solution.problem().empty());
}

TEST_CASE("a solution that was never computed does not look like success", "[electrics]") {
    CHECK_FALSE(Solution{}.ok());
    CHECK_FALSE(Solution{}.problem().empty());
}

TEST_CASE("currents balance at every node of random networks", "[electrics]") {
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        Random random(seed);
        Circuit c;
        const int nodes = 3 + random.below(12);
        const auto pick = [&] { return NodeId{random.below(nodes + 1)}; };
        for (int n = 1; n <= nodes; ++n) {
            c.node("n" + std::to_string(n));
            c.add("leak", Resistor{NodeId{n}, ground, 1e6});
        }
        c.add("charger", LimitedSource{NodeId{1}, ground, 20.0, 0.1, 3.0, 0.3});
        for (int k = 0; k < 2 * nodes; ++k) {
            const NodeId a = pick();
            const NodeId b = pick();
            if (a == b)
                continue;
            if (random.below(4) == 0)
                c.add("d", Diode{a, b, 1e-9, 1.5});
            else
                c.add("r", Resistor{a, b, std::pow(10.0, random.uniform() * 7.0 - 2.0)});
        }
        const Solution solution = DcSolver().solve(c);
        CAPTURE(seed, solution.problem());
        REQUIRE(solution.ok());
        CHECK(solution.residual_amps < SolveOptions{}.tolerance_amps);
        // Power balance: what the charger delivers is turned into heat in the passive parts.
        double delivered = 0.0;
        double heat = 0.0;
        for (const Element& element : c.elements()) {
            heat += dissipated_watts(element, solution.node_volts);
            if (std::holds_alternative<LimitedSource>(element))
                delivered += solution.volts({1}) * element_amps(element, solution.node_volts);
        }
        CHECK(heat == Approx(delivered).epsilon(1e-4).margin(1e-5));
    }
}

TEST_CASE("the diode follows its law: 60 mV a decade of current at emission 1", "[electrics]") {
    // Shockley's equation at 27 °C: ln(10) k T / q = 59.56 mV (CODATA constants).
    const auto volts_at = [](double amps) {
        Circuit c;
        c.add("i", CurrentSource{ground, c.node("a"), amps});
        c.add("d", Diode{c.node("a"), ground, 1e-12, 1.0});
        return DcSolver().solve(c).volts({1});
    };
    CHECK(volts_at(1e-2) - volts_at(1e-3) == Approx(0.05956).epsilon(1e-3));
}

TEST_CASE("0.9 V giving 0.12 A is 7.5 ohm", "[electrics]") {
    // Common practice: injection into a shorted line agrees with the ohmmeter's 8 ohm.
    Circuit c;
    c.add("supply", LimitedSource{c.node("line"), ground, 0.9, 1e-3, 1.0, 1.0});
    const auto shorted = c.add("short", Resistor{c.node("line"), ground, 7.5});
    const Solution solution = DcSolver().solve(c);
    CHECK(element_amps(c.element(shorted), solution.node_volts) == Approx(0.12).epsilon(1e-3));
}
