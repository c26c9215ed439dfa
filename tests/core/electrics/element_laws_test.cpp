// SPDX-License-Identifier: GPL-3.0-or-later
// The current laws: slopes against differences, limits against what the words say.
#include "core/electrics/element_laws.h"

#include <cmath>

#include "core/base/random.h"

using namespace eh;

namespace {

constexpr double step = 1e-5;
constexpr double slope_share = 1e-4;

template <typename Law>
void check_slope(Law law, double volts) {
    const double difference = (law(volts + step).value - law(volts - step).value) / (2.0 * step);
    const double slope = law(volts).slope[0];
    CAPTURE(volts, slope, difference);
    CHECK(slope == Approx(difference).epsilon(slope_share).margin(1e-5));
}

}  // namespace

TEST_CASE("every one-voltage law has the slope that it says", "[laws]") {
    Random random(1);
    for (int i = 0; i < 300; ++i) {
        const double v = random.uniform() * 26.0 - 3.0;
        const LimitedSource source{{1}, ground, 20.0, 0.5 + random.uniform(), 3.0, random.uniform()};
        check_slope([&](double x) { return laws::limited_source_amps(source, x); }, v);
        const ConstantPowerLoad load{{1}, ground, 45.0, 4.0};
        check_slope([&](double x) { return laws::power_load_amps(load, x); }, v);
        const PunchThrough short_circuit{{1}, ground, 3.3, 2.0};
        check_slope([&](double x) { return laws::punch_through_amps(short_circuit, x); }, v);
        const Diode diode{{1}, ground, 1e-9, 1.5};
        check_slope([&](double x) { return laws::diode_amps(diode, x); }, random.uniform() * 1.2 - 0.6);
    }
}

TEST_CASE("a regulator has the slopes that it says, by both of its volts", "[laws]") {
    Random random(2);
    for (const double efficiency : {0.0, 0.9}) {
        for (int i = 0; i < 300; ++i) {
            const Regulator regulator{{1}, {2}, 3.3, 0.2, 0.5, 1.0, efficiency, 0.001, random.uniform()};
            const double in = random.uniform() * 12.0;
            const double out = random.uniform() * 4.0;
            const auto at = [&](double a, double b) { return laws::regulator_amps(regulator, a, b); };
            const auto middle = at(in, out);
            CAPTURE(efficiency, in, out);
            CHECK(middle.in.slope[0] ==
                  Approx((at(in + step, out).in.value - at(in - step, out).in.value) / (2 * step))
                      .epsilon(1e-3)
                      .margin(1e-4));
            CHECK(middle.in.slope[1] ==
                  Approx((at(in, out + step).in.value - at(in, out - step).in.value) / (2 * step))
                      .epsilon(1e-3)
                      .margin(1e-4));
            CHECK(middle.out.slope[1] ==
                  Approx((at(in, out + step).out.value - at(in, out - step).out.value) / (2 * step))
                      .epsilon(1e-3)
                      .margin(1e-4));
        }
    }
}

TEST_CASE("a source delivers, never takes, and never more than its limit", "[laws]") {
    const LimitedSource source{{1}, ground, 20.0, 0.1, 3.0, 1.0};
    for (double v = -1.0; v < 40.0; v += 0.1) {
        const double amps = laws::limited_source_amps(source, v).value;
        CAPTURE(v);
        CHECK(amps > -3.0 * laws::limit_rounding_share);
        CHECK(amps < 3.0 * (1.0 + laws::limit_rounding_share));
    }
    CHECK(laws::limited_source_amps(source, 19.9).value == Approx(1.0).epsilon(0.02));
    const LimitedSource off{{1}, ground, 0.0, 0.1, 3.0, 1.0};
    CHECK(laws::limited_source_amps(off, 5.0).value == 0.0);
}

TEST_CASE("fold-back: into a dead short only a share of the limit flows", "[laws]") {
    const LimitedSource source{{1}, ground, 20.0, 0.1, 3.0, 0.25};
    CHECK(laws::limited_source_amps(source, 0.0).value == Approx(0.75).epsilon(0.05));
    CHECK(laws::limited_source_amps(source, 10.0).value == Approx(3.0 * 0.625).epsilon(0.05));
}

TEST_CASE(
    "a regulator that folds back gives its share into a dead short, and all its amps before its volts fall",
    "[laws]") {
    const Regulator folding{{1}, {2}, 3.3, 0.15, 0.05, 0.2, 0.0, 0.0, 0.25};
    CHECK(laws::regulator_amps(folding, 5.0, 0.0).out.value == Approx(0.05).epsilon(0.05));
    CHECK(laws::regulator_amps(folding, 5.0, 1.65).out.value == Approx(0.2 * 0.625).epsilon(0.02));
    CHECK(laws::regulator_amps(folding, 5.0, 3.28).out.value == Approx(0.2).epsilon(0.02));
    const Regulator constant{{1}, {2}, 3.3, 0.15, 0.05, 0.2};
    CHECK(laws::regulator_amps(constant, 5.0, 0.0).out.value == Approx(0.2).epsilon(0.02));
}

TEST_CASE("a converter's input power is its output power over its efficiency", "[laws]") {
    const Regulator buck{{1}, {2}, 5.0, 0.2, 0.02, 4.0, 0.9, 0.0};
    for (const double in : {9.0, 12.0, 20.0}) {
        const auto amps = laws::regulator_amps(buck, in, 4.98);
        CHECK(in * amps.in.value == Approx(4.98 * amps.out.value / 0.9).epsilon(0.01));
    }
    // A linear one passes its current through.
    const Regulator linear{{1}, {2}, 3.3, 0.15, 0.05, 0.3, 0.0, 0.0};
    const auto through = laws::regulator_amps(linear, 5.0, 3.28);
    CHECK(through.in.value == Approx(through.out.value));
}

TEST_CASE("a regulator without input gives nothing and takes nothing back", "[laws]") {
    const Regulator regulator{{1}, {2}, 3.3, 0.15, 0.05, 0.3, 0.0, 0.0004};
    CHECK(laws::regulator_amps(regulator, 0.0, 0.0).out.value == Approx(0.0).margin(2e-3));
    CHECK(laws::regulator_amps(regulator, 0.0, 3.3).out.value == Approx(0.0).margin(2e-3));
    const Regulator off{{1}, {2}, 0.0, 0.15, 0.05, 0.3, 0.0, 0.0004};
    CHECK(laws::regulator_amps(off, 5.0, 0.0).out.value == 0.0);
}

TEST_CASE("a constant-power load takes its watts, and lets go near nothing", "[laws]") {
    const ConstantPowerLoad load{{1}, ground, 45.0, 4.0};
    CHECK(20.0 * laws::power_load_amps(load, 20.0).value == Approx(45.0).epsilon(0.05));
    CHECK(laws::power_load_amps(load, 0.0).value == 0.0);
    CHECK(std::abs(laws::power_load_amps(load, 0.1).value) < 0.5);
}

TEST_CASE("the rounded maximum and minimum meet the sharp ones away from the corner", "[laws]") {
    for (const double x : {-5.0, -1.0, 1.0, 5.0}) {
        CHECK(laws::smooth_positive(laws::Dual(x), 0.02).value == Approx(std::max(x, 0.0)).margin(2e-4));
        CHECK(laws::soft_positive(laws::Dual(x), 0.02).value == Approx(std::max(x, 0.0)).margin(1e-12));
        CHECK(laws::smooth_min(laws::Dual(x), laws::Dual(0.5), 0.02).value ==
              Approx(std::min(x, 0.5)).margin(3e-4));
    }
    // At the corner the error is bounded as the header says.
    CHECK(laws::smooth_positive(laws::Dual(0.0), 0.02).value <= 0.01 + 1e-12);
    CHECK(laws::soft_positive(laws::Dual(0.0), 0.02).value == Approx(0.02 * std::log(2.0)));
}
