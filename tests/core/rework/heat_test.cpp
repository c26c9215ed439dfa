// SPDX-License-Identifier: GPL-3.0-or-later
// The heat planner: air and jets of the textbooks, networks in closed form, and plans that must hold.
#include <catch2/catch.hpp>
#include <cmath>
#include <unsupported/Eigen/MatrixFunctions>

#include "core/base/random.h"
#include "core/rework/heat_calibration.h"
#include "core/rework/heat_logs.h"
#include "core/rework/heat_plan.h"
#include "tests/support/rework.h"

using namespace eh;

namespace {

HeatSetup receptacle_setup() {
    HeatSetup setup;
    setup.part = *test::rework().find_heat_part("receptacle");
    setup.neighbour = HeatNeighbour{};
    return setup;
}

bool heat_says(const HeatPlan& plan, const std::string& word) {
    for (const HeatNote& note : plan.notes)
        if (note.says.find(word) != std::string::npos)
            return true;
    return false;
}

}  // namespace

TEST_CASE("hot air has the properties of the tables", "[rework][heat]") {
    // Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, table A.4 (air at one atmosphere, from
    // memory): density, 1e7 viscosity, 1e3 conductivity, Prandtl number.
    struct Row {
        double kelvin, density, viscosity, conductivity, prandtl;
    };
    for (const Row& row : {Row{300, 1.1614, 184.6, 26.3, 0.707}, Row{400, 0.8711, 230.1, 33.8, 0.690},
                           Row{500, 0.6964, 270.1, 40.7, 0.684}, Row{600, 0.5804, 305.8, 46.9, 0.685}}) {
        const Air air = air_at(row.kelvin - 273.15);
        CAPTURE(row.kelvin);
        CHECK(air.density == Approx(row.density).epsilon(0.015));  // the table is not quite an ideal gas
        CHECK(air.viscosity * 1e7 == Approx(row.viscosity).epsilon(0.02));
        CHECK(air.conductivity * 1e3 == Approx(row.conductivity).epsilon(0.03));
        CHECK(air.prandtl == Approx(row.prandtl).epsilon(0.04));
    }
}

TEST_CASE("a jet heats as Martin's correlation says", "[rework][heat]") {
    // Worked by hand from the correlation as printed (Incropera, impinging jets): D/r = 0.2, H/D = 5,
    // Re = 10,000: G = 0.2 * 0.78 / (1 - 0.02) = 0.1592, F = 2 * 100 * sqrt(1 + 0.005 * 158.5) = 267.8,
    // so Nu / Pr^0.42 = 42.6.
    Nozzle nozzle;
    nozzle.diameter_m = 0.01;
    nozzle.distance_m = 0.05;
    nozzle.set_c = 300.0;
    nozzle.litres_a_minute = 100.0;
    nozzle.litres_a_minute *= 10000.0 / jet_reynolds(nozzle);
    REQUIRE(jet_reynolds(nozzle) == Approx(10000.0));
    const Air film = air_at(162.5);
    const double nusselt = jet_heat_transfer(nozzle, 0.05) * nozzle.diameter_m / film.conductivity;
    CHECK(nusselt / std::pow(film.prandtl, 0.42) == Approx(42.6).epsilon(0.005));
    // Conservation: the ring's mean warmth is that of its parts.
    const double inner = jet_warmth(nozzle, 0.0, 0.02);
    const double outer = jet_warmth(nozzle, 0.02, 0.04);
    CHECK(jet_warmth(nozzle, 0.0, 0.04) == Approx(0.25 * inner + 0.75 * outer));
    CHECK(jet_warmth(nozzle, 0.03) == Approx(0.5));
}

TEST_CASE("one and two lumps follow their closed forms", "[rework][heat]") {
    // One lump: T = Ta + (T0 - Ta) exp(-G t / C).
    Eigen::VectorXd one(1);
    one << 2.0;
    ThermalNetwork single(one);
    single.tie(0, 0.1, 300.0);
    const ThermalCourse course(single, Eigen::VectorXd::Constant(1, 25.0));
    for (const double t : {0.0, 3.0, 20.0, 200.0})
        CHECK(course.at(t, 0) == Approx(300.0 - 275.0 * std::exp(-0.05 * t)));
    // Two lumps joined and shut off: the difference falls with G (1/C1 + 1/C2), the heat stays.
    Eigen::VectorXd two(2);
    two << 1.0, 3.0;
    ThermalNetwork pair(two);
    pair.join(0, 1, 0.6);
    Eigen::VectorXd start(2);
    start << 100.0, 20.0;
    const ThermalCourse apart(pair, start);
    for (const double t : {0.0, 0.5, 2.0, 30.0}) {
        const Eigen::VectorXd now = apart.at(t);
        CHECK(now[0] - now[1] == Approx(80.0 * std::exp(-0.6 * (1.0 + 1.0 / 3.0) * t)).margin(1e-9));
        CHECK(now[0] + 3.0 * now[1] == Approx(160.0));
    }
    // Two lumps in a row to hot air, in the end: both come to the air.
    pair.tie(1, 0.2, 350.0);
    const ThermalCourse settling(pair, start);
    CHECK(settling.at(1e4, 0) == Approx(350.0));
    CHECK(settling.at(1e4, 1) == Approx(350.0));
}

TEST_CASE("networks agree with the matrix exponential", "[rework][heat]") {
    // Eigen's matrix function (scaling and squaring) as the reference: T(t) = e^(At) T0 + A^-1 (e^(At) - 1)
    // b.
    Random random(4711);
    for (int round = 0; round < 20; ++round) {
        const int n = 2 + round % 5;
        Eigen::VectorXd heat(n);
        Eigen::VectorXd start(n);
        for (int i = 0; i < n; ++i) {
            heat[i] = 0.01 + 2.0 * random.uniform();
            start[i] = 20.0 + 100.0 * random.uniform();
        }
        ThermalNetwork net(heat);
        for (int i = 0; i + 1 < n; ++i)
            net.join(i, i + 1, 0.01 + random.uniform());
        net.tie(0, 0.05 + random.uniform(), 300.0);
        const Eigen::MatrixXd a = -(heat.cwiseInverse().asDiagonal() * net.conductances());
        const Eigen::VectorXd b = heat.cwiseInverse().asDiagonal() * net.inflow();
        for (const double t : {0.1, 1.0, 25.0}) {
            const Eigen::MatrixXd e = (a * t).exp();
            const Eigen::VectorXd reference =
                e * start + a.lu().solve((e - Eigen::MatrixXd::Identity(n, n)) * b);
            CAPTURE(round, t);
            CHECK((ThermalCourse(net, start).at(t) - reference).cwiseAbs().maxCoeff() < 1e-7);
        }
    }
}

TEST_CASE("hotter, nearer, more and warmed from below is quicker", "[rework][heat]") {
    const auto lift = [](const HeatSetup& setup) {
        const auto plan = plan_heat(setup);
        REQUIRE(plan.ok());
        return plan->lift_s.value_or(1e9);
    };
    for (const HeatPart& part : test::rework().heat_parts) {
        HeatSetup base = receptacle_setup();
        base.part = part;
        CAPTURE(part.id);
        const double usual = lift(base);
        HeatSetup other = base;
        other.air.set_c += 30.0;
        CHECK(lift(other) < usual);
        other = base;
        other.air.litres_a_minute *= 1.5;
        CHECK(lift(other) < usual);
        other = base;
        other.preheat_c = 110.0;
        CHECK(lift(other) < usual);
        other = base;
        other.board.copper_layers += 4;
        CHECK(lift(other) > usual);
        other = base;
        other.solidus_c = 217.0;
        other.liquidus_c = 220.0;
        CHECK(lift(other) > usual);
    }
}

TEST_CASE("the plan is what benches see: leaded receptacles near 350 °C, lead-free not without warmth",
          "[rework][heat]") {
    // Common practice: hot air on receptacles 300-350 °C; adding leaded solder first; factory solder on a
    // heavy board wants a preheater.
    HeatSetup setup = receptacle_setup();
    const auto leaded = plan_heat(setup);
    REQUIRE(leaded.ok());
    CHECK(leaded->possible);
    CHECK(*leaded->lift_s > 15.0);
    CHECK(*leaded->lift_s < 120.0);
    const auto best = best_air_c(heat_window(setup, 200.0, 480.0, 57));
    REQUIRE(best);
    CHECK(*best >= 290.0);
    CHECK(*best <= 360.0);
    setup.solidus_c = 217.0;
    setup.liquidus_c = 220.0;
    const auto cold = plan_heat(setup);
    REQUIRE(cold.ok());
    CHECK_FALSE(cold->possible);
    CHECK(heat_says(*cold, "Warm the board from below"));
    setup.preheat_c = 120.0;
    CHECK(plan_heat(setup)->possible);
}

TEST_CASE("what gives way first is found and named", "[rework][heat]") {
    HeatSetup setup = receptacle_setup();
    setup.part.plastic_limit_c = 180.0;
    const auto soft = plan_heat(setup);
    REQUIRE(soft.ok());
    CHECK_FALSE(soft->possible);
    CHECK(heat_says(*soft, "before the joint can be lifted"));
    REQUIRE(soft->plastic_softens_s);
    CHECK(*soft->plastic_softens_s < *soft->lift_s);
    // A neighbour under the nozzle floats; foil keeps it.
    setup = receptacle_setup();
    setup.neighbour = HeatNeighbour{5.0, 138.0, 138.0, false};
    const auto floats = plan_heat(setup);
    CHECK(heat_says(*floats, "floats"));
    HeatSetup shielded = setup;
    shielded.neighbour->shielded = true;
    CHECK(plan_heat(shielded)->peak_neighbour_c < floats->peak_neighbour_c);
    // Air that goes too soon.
    setup = receptacle_setup();
    setup.air_s = 10.0;
    CHECK(heat_says(*plan_heat(setup), "tears pads"));
    // J-STD-020: no more than 150 s above the liquidus.
    setup.air_s = 290.0;
    setup.preheat_c = 120.0;
    const auto long_plan = plan_heat(setup);
    CHECK(long_plan->above_liquidus_s > 150.0);
    CHECK(heat_says(*long_plan, "J-STD-020"));
}

TEST_CASE("the window agrees with the plan at each of its temperatures", "[rework][heat]") {
    HeatSetup setup = receptacle_setup();
    for (const HeatWindowPoint& point : heat_window(setup, 250.0, 450.0, 9)) {
        setup.air.set_c = point.set_c;
        const auto plan = plan_heat(setup);
        CAPTURE(point.set_c);
        CHECK(plan->lift_s == point.ready_s);
        if (point.limit_s)
            CHECK((plan->plastic_softens_s == point.limit_s || plan->body_limit_s == point.limit_s ||
                   plan->neighbour_softens_s == point.limit_s));
    }
    const std::vector<HeatWindowPoint> cold = heat_window(setup, 60.0, 120.0, 5);
    CHECK_FALSE(best_air_c(cold));
}

TEST_CASE("peaks and times of the plan are those of its course", "[rework][heat]") {
    HeatSetup setup = receptacle_setup();
    const auto plan = plan_heat(setup);
    const HeatCourse course(setup, plan->air_s);
    double highest = 0.0;
    double above = 0.0;
    constexpr double step = 0.1;
    for (double t = 0.0; t < plan->air_s + 240.0; t += step) {
        highest = std::max(highest, course.celsius(HeatLump::joint, t));
        above += course.celsius(HeatLump::joint, t) >= setup.liquidus_c ? step : 0.0;
    }
    CHECK(plan->peak_joint_c == Approx(highest).margin(0.2));
    CHECK(plan->above_liquidus_s == Approx(above).margin(1.0));
    CHECK(course.celsius(HeatLump::joint, *plan->liquid_s) == Approx(setup.liquidus_c).margin(0.01));
    // The seams between preheating, air and cooling are smooth.
    for (const double seam : {0.0, plan->air_s})
        CHECK(course.celsius(HeatLump::joint, seam - 1e-6) ==
              Approx(course.celsius(HeatLump::joint, seam + 1e-6)).margin(1e-3));
}

TEST_CASE("a bench's own logs move the factors toward what they say", "[rework][heat]") {
    REQUIRE(calibrate_heat({})->air == 1.0);
    Random random(99);
    for (const auto& [air, sink] : {std::pair{1.3, 0.8}, {0.75, 1.2}, {1.0, 1.0}}) {
        std::vector<HeatLog> logs;
        for (int i = 0; i < 14; ++i) {
            HeatSetup setup = receptacle_setup();
            setup.part = test::rework().heat_parts[static_cast<std::size_t>(i) % 5];
            setup.air.set_c = 340.0 + 10.0 * (i % 8);
            setup.board.copper_layers = 4 + i % 7;
            setup.air.litres_a_minute = 30.0 + 6.0 * (i % 5);
            if (i % 2 == 0)
                setup.preheat_c = 100.0;
            HeatSetup truth = setup;
            truth.calibration.air = air;
            truth.calibration.sink = sink;
            const double seconds = moving_s(truth) * std::exp(0.1 * random.normal());
            if (seconds > 2.0 && seconds < 1000.0)
                logs.push_back({setup, seconds});
        }
        REQUIRE(logs.size() >= 8);
        const auto found = calibrate_heat(logs);
        REQUIRE(found.ok());
        CAPTURE(air, sink, found->air, found->sink, found->air_spread, found->sink_spread);
        // Within three of its own standard deviations, which the logs have narrowed.
        CHECK(std::abs(std::log(found->air / air)) < 3.0 * found->air_spread);
        CHECK(std::abs(std::log(found->sink / sink)) < 3.0 * found->sink_spread);
        CHECK(found->air_spread < 0.25);
        // It explains the logs better than the prior does.
        double before = 0.0;
        double after = 0.0;
        for (const HeatLog& log : logs) {
            HeatSetup fitted = log.setup;
            fitted.calibration = *found;
            before += std::pow(std::log(moving_s(log.setup) / log.moved_after_s), 2);
            after += std::pow(std::log(moving_s(fitted) / log.moved_after_s), 2);
        }
        CHECK(after <= before * 1.0001);
    }
}

TEST_CASE("air, times and places that no bench has are refused with the field", "[rework][heat]") {
    const auto refusal = [](auto change) {
        HeatSetup setup = receptacle_setup();
        change(setup);
        const auto plan = plan_heat(setup);
        REQUIRE_FALSE(plan.ok());
        return plan.error().text();
    };
    CHECK(refusal([](HeatSetup& s) { s.air.set_c = 601.0; }).find("air temperature") != std::string::npos);
    CHECK(refusal([](HeatSetup& s) { s.air.set_c = -1.0; }).find("air temperature") != std::string::npos);
    CHECK(refusal([](HeatSetup& s) { s.air.set_c = std::nan(""); }).find("air") != std::string::npos);
    CHECK(refusal([](HeatSetup& s) { s.air.litres_a_minute = 0.0; }).find("air flow") != std::string::npos);
    CHECK(refusal([](HeatSetup& s) { s.board.copper_layers = 0; }).find("copper layers") !=
          std::string::npos);
    CHECK(refusal([](HeatSetup& s) { s.preheat_c = 400.0; }).find("preheat") != std::string::npos);
    CHECK(refusal([](HeatSetup& s) { s.part = {}; }).find("part") != std::string::npos);
    CHECK(calibrate_heat({{receptacle_setup(), 0.0}}).error().text().find("log 1") != std::string::npos);
}

TEST_CASE("logs of the bench go to a file and come back", "[rework][heat]") {
    KeptHeatLog kept;
    kept.part = "receptacle";
    kept.job = "D-1";
    kept.when_ms = 1700000000000;
    kept.log.setup = receptacle_setup();
    kept.log.setup.neighbour.reset();
    kept.log.setup.preheat_c = 95.0;
    kept.log.moved_after_s = 48.0;
    const auto back = parse_heat_logs(write_heat_logs({kept}), "logs.json", test::rework().heat_parts);
    REQUIRE(back.ok());
    REQUIRE(back->size() == 1);
    CHECK(moving_s(back->front().log.setup) == Approx(moving_s(kept.log.setup)));
    CHECK(back->front().log.moved_after_s == 48.0);
    CHECK(back->front().job == "D-1");
    std::string wrong = write_heat_logs({kept});
    wrong.replace(wrong.find("receptacle"), 10, "unheard-of");
    const auto refused = parse_heat_logs(wrong, "logs.json", test::rework().heat_parts);
    REQUIRE_FALSE(refused.ok());
    CHECK(refused.error().text().find("logs.json") != std::string::npos);
    CHECK(refused.error().text().find("unheard-of") != std::string::npos);
}
