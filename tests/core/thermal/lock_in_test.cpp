// SPDX-License-Identifier: GPL-3.0-or-later
// The lock-in against courses whose amplitude is known, and the rhythm it is in step with.
#include "core/thermal/lock_in.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/random.h"
#include "core/thermal/rhythm.h"
#include "core/thermal/smoothing.h"
#include "tests/support/streams.h"

using namespace eh;

namespace {

constexpr double period_s = 4.0;

// One pixel follows the rhythm with an amplitude and a delay, one drifts, one is constant.
ThermalFrame pixels_at(double t_s, double amplitude, double delay_s, double noise, Random& random) {
    const double wave = amplitude * std::cos(2.0 * std::numbers::pi * (t_s - delay_s) / period_s);
    ThermalFrame frame{3, 1, {}, t_s, std::nullopt};
    for (const double celsius : {30.0 + wave, 30.0 + 0.01 * t_s, 80.0})
        frame.celsius.push_back(static_cast<float>(celsius + noise * random.normal()));
    return frame;
}

}  // namespace

TEST_CASE("amplitude and delay come back exactly without noise", "[thermal]") {
    Random random(1);
    LockIn lock_in(3, 1);
    for (int i = 0; i < 333; ++i) {
        const double t_s = 0.1 * i;
        CHECK(lock_in.add(pixels_at(t_s, 0.02, 0.6, 0.0, random), t_s / period_s, t_s));
    }
    const auto image = lock_in.image();
    REQUIRE(image.ok());
    const double angle = 2.0 * std::numbers::pi * 0.6 / period_s;
    CHECK(image->heat.kelvin[0] == Approx(0.02 * std::cos(angle)).margin(1e-5));
    CHECK(image->heat.quarter_behind[0] == Approx(0.02 * std::sin(angle)).margin(1e-5));
    for (const std::size_t still : {1UL, 2UL})
        CHECK(std::hypot(image->heat.kelvin[still], image->heat.quarter_behind[still]) < 2e-5F);
    CHECK(image->cycles == Approx(332 * 0.1 / period_s));
}

TEST_CASE("the noise of an amplitude is that of a frame by the root of two over their number", "[thermal]") {
    Random random(5);
    constexpr int frames = 600;
    constexpr double noise = 0.05;
    LockIn lock_in(60, 40);
    for (int i = 0; i < frames; ++i) {
        ThermalFrame frame{60, 40, {}, 0.1 * i, std::nullopt};
        for (int p = 0; p < 60 * 40; ++p)
            frame.celsius.push_back(static_cast<float>(25.0 + noise * random.normal()));
        lock_in.add(frame, 0.1 * i / period_s, 0.1 * i);
    }
    const auto image = lock_in.image();
    REQUIRE(image.ok());
    const double wanted = noise * std::sqrt(2.0 / frames);
    CHECK(image->heat.noise_kelvin == Approx(wanted).epsilon(0.03));
    double square = 0.0;
    for (const float kelvin : image->heat.kelvin)
        square += double{kelvin} * double{kelvin};
    CHECK(std::sqrt(square / (60 * 40)) == Approx(wanted).epsilon(0.05));
}

TEST_CASE("too little for a lock-in is refused, other sizes are left out", "[thermal]") {
    Random random(1);
    LockIn lock_in(3, 1);
    CHECK_FALSE(lock_in.image().ok());
    for (int i = 0; i < 20; ++i)
        lock_in.add(pixels_at(0.1 * i, 0.1, 0.0, 0.0, random), 0.1 * i / period_s, 0.1 * i);
    CHECK_FALSE(lock_in.image().ok());  // half a cycle
    CHECK_FALSE(lock_in.add(ThermalFrame{2, 1, {1.0F, 2.0F}, 9.0, std::nullopt}, 9.0, 9.0));
    LockIn stroboscope(3, 1);  // always at the same moment of the rhythm
    for (int i = 0; i < 20; ++i)
        stroboscope.add(pixels_at(period_s * i, 0.1, 0.0, 0.0, random), i, period_s * i);
    CHECK_FALSE(stroboscope.image().ok());
}

TEST_CASE("the difference of means is the rise, its noise that of both", "[thermal]") {
    Random random(2);
    const auto taken = [&](double rise, int count) {
        std::vector<ThermalFrame> frames;
        for (int f = 0; f < count; ++f) {
            ThermalFrame frame{50, 40, {}, std::nullopt, std::nullopt};
            for (int p = 0; p < 50 * 40; ++p)
                frame.celsius.push_back(static_cast<float>(20.0 + 0.05 * (p % 50) + (p == 777 ? rise : 0.0) +
                                                           0.04 * random.normal()));
            frames.push_back(std::move(frame));
        }
        return frames;
    };
    for (const int count : {1, 2, 16}) {
        const auto rise = rise_between(taken(0.0, count), taken(2.0, count));
        REQUIRE(rise.ok());
        const double wanted = 0.04 * std::sqrt(2.0 / count);
        INFO(count << " frames each");
        CHECK(rise->noise_kelvin == Approx(wanted).epsilon(0.1));
        CHECK(rise->kelvin[777] == Approx(2.0).margin(5.0 * wanted));
    }
    CHECK_FALSE(rise_between({}, taken(0.0, 1)).ok());
    CHECK_FALSE(rise_between({ThermalFrame{1, 1, {20.0F}, {}, {}}}, taken(0.0, 1)).ok());
}

TEST_CASE("smoothing keeps the mean, and the share of the noise that it says", "[thermal]") {
    Random random(4);
    std::vector<float> noise;
    for (int i = 0; i < 200 * 200; ++i)
        noise.push_back(static_cast<float>(random.normal()));
    for (const int passes : {1, 2}) {
        const auto smooth = smoothed(noise, 200, 200, passes);
        double square = 0.0;
        for (const float value : smooth)
            square += double{value} * double{value};
        CHECK(std::sqrt(square / (200.0 * 200.0)) == Approx(smoothed_noise_share(passes)).epsilon(0.05));
        const std::vector<float> flat(12, 3.5F);
        for (const float value : smoothed(flat, 4, 3, passes))
            CHECK(value == Approx(3.5));
    }
}

TEST_CASE("a rhythm counts cycles, whatever their length", "[thermal]") {
    const Rhythm uneven({10.0, 12.0, 16.0});
    CHECK(uneven.period_s() == Approx(3.0));
    CHECK(uneven.cycles_at(11.0).value() == Approx(0.5));
    CHECK(uneven.cycles_at(13.0).value() == Approx(1.25));
    CHECK_FALSE(uneven.cycles_at(9.9));
    CHECK_FALSE(uneven.cycles_at(16.0));
    const Rhythm even = Rhythm::of_period(4.0, 2.0, 30.0);
    CHECK(even.cycles_at(12.0).value() == Approx(2.5));
    CHECK(even.cycles_at(29.9));
    CHECK(Rhythm::of_period(0.0, 0.0, 10.0).empty());
    std::vector<ThermalFrame> frames;
    for (int i = 0; i < 100; ++i)
        frames.push_back({1, 1, {20.0F}, 0.5 * i, i % 8 >= 4});
    const Rhythm seen = Rhythm::of_frames(frames);
    REQUIRE_FALSE(seen.empty());
    CHECK(seen.period_s() == Approx(4.0));
    CHECK(seen.first_s() == Approx(2.0));
}

TEST_CASE("the charger's retries in a trace are a rhythm", "[thermal]") {
    std::vector<test::Stretch> beats;
    for (int i = 0; i < 12; ++i) {
        beats.push_back({0.9, 5.0, 0.1, 0.1});
        beats.push_back({0.4, 0, 0, 0});
    }
    const Rhythm rhythm = Rhythm::of_retries(read_trace(test::stream_of(beats)));
    REQUIRE_FALSE(rhythm.empty());
    CHECK(rhythm.period_s() == Approx(1.3).epsilon(0.02));
    CHECK(Rhythm::of_retries(read_trace(test::stream_of({{5.0, 20.0, 1.0, 1.0}}))).empty());
}
