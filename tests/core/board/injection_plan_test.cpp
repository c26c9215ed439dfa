// SPDX-License-Identifier: GPL-3.0-or-later
// The injection planner against the published conductor formula, Ohm's law, and bounds that it must keep.
#include "core/board/injection_plan.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/random.h"

using namespace eh;

namespace {

InjectionQuestion shorted_vbus() {
    InjectionQuestion question;
    question.net_volts = 20.0;
    question.ohms = 0.5;
    question.suspects = {"C4", "DP1", "U2", "J1"};
    return question;
}

}  // namespace

TEST_CASE("conductors heat as IPC-2221 says", "[board][injection]") {
    // I = k dT^0.44 A^0.725, A in square mils, k = 0.048 outside and 0.024 inside (IPC-2221, from memory).
    // 100 mil of one-ounce copper (1.37 mil): 137 square mil, 10 K outside.
    const double width_mm = 100.0 * 0.0254;
    const double ounce_um = 1.37 * 25.4;
    const double wanted = 0.048 * std::pow(10.0, 0.44) * std::pow(137.0, 0.725);
    CHECK(conductor_amps(10.0, width_mm, ounce_um, false) == Approx(wanted).epsilon(1e-9));
    CHECK(conductor_amps(10.0, width_mm, ounce_um, true) == Approx(0.5 * wanted).epsilon(1e-9));
    // The standard's chart reads about 4.7 A there (from memory).
    CHECK(wanted == Approx(4.7).epsilon(0.05));
    Random random(2);
    for (int i = 0; i < 50; ++i) {
        const double width = 0.1 + 5.0 * random.uniform();
        const double rise = 1.0 + 60.0 * random.uniform();
        const bool inside = random.uniform() < 0.5;
        CHECK(conductor_rise_kelvin(conductor_amps(rise, width, 35.0, inside), width, 35.0, inside) ==
              Approx(rise).epsilon(1e-9));
    }
    CHECK(conductor_rise_kelvin(0.0, 1.0, 35.0, false) == 0.0);
}

TEST_CASE("the plan begins at a volt or less and rises within every bound", "[board][injection]") {
    Random random(9);
    int planned = 0;
    for (int i = 0; i < 400; ++i) {
        InjectionQuestion question = shorted_vbus();
        question.net_volts = 0.7 + 40.0 * random.uniform();
        question.ohms = 0.01 * std::pow(10.0, 4.0 * random.uniform());
        question.narrowest_mm = 0.2 + 3.0 * random.uniform();
        question.supply_amps = 1.0 + 9.0 * random.uniform();
        question.wanted_rise_kelvin = random.uniform() < 0.5 ? 15.0 : 0.05;
        const auto plan = plan_injection(question);
        if (!plan)
            continue;
        ++planned;
        REQUIRE_FALSE(plan->steps.empty());
        CHECK_FALSE(plan->ends_because.empty());
        CHECK(plan->steps.front().volts <= 1.0);
        CHECK(plan->steps.front().volts <= 0.5 * question.net_volts);
        double before = 0.0;
        for (const InjectionStep& step : plan->steps) {
            CHECK(step.volts <= question.net_volts);
            CHECK(step.limit_amps <= question.supply_amps);
            CHECK(step.expected_amps <= step.limit_amps);
            CHECK(step.expected_volts == Approx(step.expected_amps * question.ohms));
            CHECK(step.watts >= before);
            before = step.watts;
            if (&step != &plan->steps.front()) {
                CHECK(step.copper_kelvin <= 20.0);
                CHECK(step.watts <= 4.0);
            }
        }
        CHECK(plan->steps.size() < 30);
        REQUIRE(plan->heats.size() == 4);
        for (std::size_t h = 1; h < plan->heats.size(); ++h)
            CHECK(plan->heats[h].kelvin <= plan->heats[h - 1].kelvin);
    }
    CHECK(planned > 300);
}

TEST_CASE("a processor's rail is never fed above its own volts, and says so", "[board][injection]") {
    InjectionQuestion question = shorted_vbus();
    question.net_volts = 0.9;
    question.ohms = 0.05;
    const auto plan = plan_injection(question);
    REQUIRE(plan.ok());
    CHECK(plan->steps.front().volts == Approx(0.45));
    bool told = false;
    for (const std::string& caution : plan->cautions)
        told = told || caution.find("processor") != std::string::npos;
    CHECK(told);
}

TEST_CASE("what is not fed is refused with its reason", "[board][injection]") {
    InjectionQuestion question = shorted_vbus();
    question.net_volts = 325.0;
    CHECK_FALSE(plan_injection(question).ok());
    question = shorted_vbus();
    question.ohms = 2e6;
    const auto leak = plan_injection(question);
    REQUIRE_FALSE(leak.ok());
    CHECK(leak.error().message.find("leak") != std::string::npos);
    for (double InjectionQuestion::*field :
         {&InjectionQuestion::net_volts, &InjectionQuestion::ohms, &InjectionQuestion::narrowest_mm,
          &InjectionQuestion::supply_amps}) {
        question = shorted_vbus();
        question.*field = 0.0;
        CHECK_FALSE(plan_injection(question).ok());
    }
}

TEST_CASE("logged steps are held against the ohmmeter and each other", "[board][injection]") {
    // Common practice: 0.9 V giving 0.12 A is 7.5 ohm, agreeing with the ohmmeter's 8.
    const auto steady = check_injection({{0.9, 0.12}}, 8.0);
    REQUIRE(steady);
    CHECK(steady->ohms == Approx(7.5));
    CHECK(steady->agrees);
    // Common practice: 8 ohm cold can be under 1 ohm at 5 V and amps.
    const auto breaks = check_injection({{0.9, 0.12}, {2.0, 0.5}, {3.0, 3.4}}, 8.0);
    REQUIRE(breaks);
    CHECK(breaks->moved < 0.2);
    CHECK(breaks->says.find("falls") != std::string::npos);
    const auto opened = check_injection({{0.5, 1.0}, {1.0, 0.002}}, 0.5);
    REQUIRE(opened);
    CHECK(opened->says.find("opened") != std::string::npos);
    const auto elsewhere = check_injection({{0.9, 0.9}}, 8.0);
    REQUIRE(elsewhere);
    CHECK_FALSE(elsewhere->agrees);
    CHECK_FALSE(check_injection({}, 8.0));
    CHECK_FALSE(check_injection({{1.0, 0.0}, {NAN, 1.0}}, 8.0));
}
