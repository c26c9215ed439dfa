// SPDX-License-Identifier: GPL-3.0-or-later
// The solver against ngspice (Debian package ngspice): the same netlist solved by both.
// Margins: 1e-6 relative on linear networks, 1e-4 with diodes and switches.
#include "tests/support/ngspice.h"

using namespace eh;
using eh::test::require_agreement;

namespace {
constexpr double linear = 1e-6;
constexpr double nonlinear = 1e-4;
}  // namespace

TEST_CASE("linear networks agree with ngspice", "[electrics][ngspice]") {
    SECTION("a loaded divider") {
        Circuit c;
        c.add("v", VoltageSource{c.node("in"), ground, 20.0});
        c.add("r1", Resistor{c.node("in"), c.node("mid"), 4700.0});
        c.add("r2", Resistor{c.node("mid"), ground, 10000.0});
        c.add("load", Resistor{c.node("mid"), ground, 5100.0});
        require_agreement(c, "loaded divider", linear);
    }
    SECTION("an unbalanced bridge") {
        Circuit c;
        c.add("v", VoltageSource{c.node("top"), ground, 5.0});
        c.add("r1", Resistor{c.node("top"), c.node("left"), 1000.0});
        c.add("r2", Resistor{c.node("top"), c.node("right"), 1500.0});
        c.add("r3", Resistor{c.node("left"), ground, 2200.0});
        c.add("r4", Resistor{c.node("right"), ground, 680.0});
        c.add("galvanometer", Resistor{c.node("left"), c.node("right"), 47.0});
        require_agreement(c, "bridge", linear);
    }
    SECTION("a ladder whose conductances span nine decades") {
        Circuit c;
        c.add("v", VoltageSource{c.node("n0"), ground, 12.0});
        double ohms = 0.01;
        for (int i = 0; i < 9; ++i, ohms *= 10.0) {
            c.add("s" + std::to_string(i),
                  Resistor{c.node("n" + std::to_string(i)), c.node("n" + std::to_string(i + 1)), ohms});
            c.add("p" + std::to_string(i),
                  Resistor{c.node("n" + std::to_string(i + 1)), ground, 100.0 * ohms});
        }
        require_agreement(c, "ladder", linear);
    }
    SECTION("a current pushed into a mesh of shorts") {
        Circuit c;
        c.add("i", CurrentSource{ground, c.node("a"), 1.5});
        c.add("r1", Resistor{c.node("a"), c.node("b"), 0.02});
        c.add("r2", Resistor{c.node("b"), c.node("c"), 0.015});
        c.add("r3", Resistor{c.node("a"), c.node("c"), 0.05});
        c.add("r4", Resistor{c.node("c"), ground, 0.22});
        require_agreement(c, "mesh", linear);
    }
}

TEST_CASE("nonlinear networks agree with ngspice", "[electrics][ngspice]") {
    SECTION("a diode behind a resistor") {
        Circuit c;
        c.add("v", VoltageSource{c.node("in"), ground, 5.0});
        c.add("r", Resistor{c.node("in"), c.node("d"), 330.0});
        c.add("d", Diode{c.node("d"), ground, 1e-9, 1.2});
        require_agreement(c, "diode", nonlinear);
    }
    SECTION("two supplies joined by diodes") {
        Circuit c;
        c.add("v1", VoltageSource{c.node("p1"), ground, 5.0});
        c.add("v2", VoltageSource{c.node("p2"), ground, 4.8});
        c.add("d1", Diode{c.node("p1"), c.node("or"), 1e-6, 1.1});
        c.add("d2", Diode{c.node("p2"), c.node("or"), 1e-6, 1.1});
        c.add("load", Resistor{c.node("or"), ground, 120.0});
        require_agreement(c, "or-ing diodes", nonlinear);
    }
    SECTION("a charger in its current limit, folding back into a short") {
        Circuit c;
        c.add("charger", LimitedSource{c.node("vbus"), ground, 5.0, 0.1, 3.3, 0.25});
        c.add("path", Resistor{c.node("vbus"), c.node("part"), 0.05});
        c.add("short", Resistor{c.node("part"), ground, 0.8});
        require_agreement(c, "fold-back", nonlinear);
    }
    SECTION("a short that grows with volts") {
        Circuit c;
        c.add("v", VoltageSource{c.node("in"), ground, 5.0});
        c.add("r", Resistor{c.node("in"), c.node("x"), 0.5});
        c.add("p", PunchThrough{c.node("x"), ground, 8.0, 2.0});
        require_agreement(c, "punch-through", nonlinear);
    }
    SECTION("a converter taking constant power through a worn contact") {
        Circuit c;
        c.add("charger", LimitedSource{c.node("src"), ground, 20.0, 0.08, 3.4, 1.0});
        c.add("contact", Resistor{c.node("src"), c.node("board"), 0.6});
        c.add("load", ConstantPowerLoad{c.node("board"), ground, 45.0, 4.0});
        require_agreement(c, "constant power", nonlinear);
    }
    SECTION("a linear regulator with a shorted output") {
        Circuit c;
        c.add("v", VoltageSource{c.node("in"), ground, 5.0});
        c.add("reg", Regulator{c.node("in"), c.node("out"), 3.3, 0.15, 0.05, 0.2, 0.0, 0.0004});
        c.add("short", Resistor{c.node("out"), ground, 4.7});
        require_agreement(c, "regulator in its limit", nonlinear);
    }
    SECTION("a linear regulator that folds back into its shorted output") {
        Circuit c;
        c.add("v", VoltageSource{c.node("in"), ground, 5.0});
        c.add("reg", Regulator{c.node("in"), c.node("out"), 3.3, 0.15, 0.05, 0.2, 0.0, 0.0004, 0.25});
        c.add("short", Resistor{c.node("out"), ground, 4.7});
        require_agreement(c, "regulator folding back", nonlinear);
    }
    SECTION("a step-down converter feeding a linear regulator") {
        Circuit c;
        c.add("v", VoltageSource{c.node("in"), ground, 12.6});
        c.add("buck", Regulator{c.node("in"), c.node("five"), 5.0, 0.2, 0.02, 4.0, 0.9, 0.0015});
        c.add("ldo", Regulator{c.node("five"), c.node("three"), 3.3, 0.15, 0.05, 0.3, 0.0, 0.0003});
        c.add("l5", Resistor{c.node("five"), ground, 10.0});
        c.add("l3", Resistor{c.node("three"), ground, 33.0});
        require_agreement(c, "cascade", nonlinear);
    }
    SECTION("a converter that its collapsing input starves") {
        Circuit c;
        c.add("charger", LimitedSource{c.node("src"), ground, 5.0, 0.3, 0.55, 1.0});
        c.add("buck", Regulator{c.node("src"), c.node("out"), 3.3, 0.2, 0.02, 5.0, 0.9, 0.001});
        c.add("load", Resistor{c.node("out"), ground, 2.2});
        require_agreement(c, "starved converter", nonlinear);
    }
}
