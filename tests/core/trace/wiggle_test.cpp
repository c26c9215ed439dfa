// SPDX-License-Identifier: GPL-3.0-or-later
// The wiggle test on streams made for it.
#include "core/trace/wiggle.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/random.h"

using namespace eh;

namespace {

struct Contact {
    double open_a_second = 0.0;    // how often it opens while pushed
    double wavers_by = 0.0;        // of the amps, one sigma, while pushed
    bool meter_goes_dark = false;  // the break is before the meter
};

// Twenty seconds at 50 lines a second; the contact misbehaves while pushed `bad`.
std::vector<MeterSample> pushed(WiggleDirection bad, const Contact& contact, double amps,
                                std::uint64_t seed) {
    Random random(seed);
    std::vector<MeterSample> samples;
    double gone_until_s = -1.0;
    double swing = 0.0;
    for (int i = 0; i < 1000; ++i) {
        const double t_s = 0.02 * i;
        const bool here =
            t_s >= 4.0 && wiggle_steps(0.0)[static_cast<std::size_t>(t_s / 4.0)].direction == bad;
        if (here && t_s > gone_until_s && random.uniform() < 0.02 * contact.open_a_second)
            gone_until_s = t_s + 0.8;
        swing = 0.9 * swing + (here ? contact.wavers_by * random.normal() : 0.0);
        const bool gone = t_s <= gone_until_s;
        if (gone && contact.meter_goes_dark)
            continue;
        samples.push_back({t_s, 20.0 + 0.005 * random.normal(),
                           gone ? 0.0 : amps * (1.0 + 0.02 * random.normal() + swing)});
    }
    return samples;
}

}  // namespace

TEST_CASE("the steps are twenty seconds, at rest first, without holes", "[trace]") {
    const auto steps = wiggle_steps(100.0);
    REQUIRE(steps.size() == 5);
    CHECK(steps.front().direction == WiggleDirection::rest);
    CHECK(steps.front().from_s == 100.0);
    CHECK(steps.back().to_s == 120.0);
    for (std::size_t i = 1; i < steps.size(); ++i)
        CHECK(steps[i].from_s == steps[i - 1].to_s);
}

TEST_CASE("a contact that holds holds, one that opens is counted where it does", "[trace]") {
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        CAPTURE(seed);
        const auto sound = read_wiggle(pushed(WiggleDirection::left, {}, 1.5, seed), wiggle_steps(0.0));
        CHECK(sound.verdict == WiggleVerdict::holds);
        // Hanley and Lippman-Hand: none in n, at most 3/n; here in a third of a minute.
        CHECK(sound.most_a_minute == Approx(3.0 * 3.0).epsilon(0.01));
        for (const bool dark : {false, true}) {
            for (const auto way : {WiggleDirection::up, WiggleDirection::down, WiggleDirection::left,
                                   WiggleDirection::right}) {
                const auto open = read_wiggle(pushed(way, {3.0, 0.0, dark}, 1.5, seed), wiggle_steps(0.0));
                CHECK(open.verdict == WiggleVerdict::drops_out);
                CHECK(open.worst == way);
                CHECK(open.drop_outs >= 1);
                CHECK(open.drop_outs <= 5);
                CHECK(open.gone_s > 0.7);
                CHECK(open.most_a_minute > 3.0 * open.drop_outs);
            }
        }
        const auto wavers =
            read_wiggle(pushed(WiggleDirection::down, {0.0, 0.06, false}, 1.5, seed), wiggle_steps(0.0));
        CHECK(wavers.verdict == WiggleVerdict::wavers);
        CHECK(wavers.worst == WiggleDirection::down);
    }
}

TEST_CASE("with nothing flowing, nothing is said", "[trace]") {
    CHECK(read_wiggle({}, wiggle_steps(0.0)).verdict == WiggleVerdict::cannot_tell);
    CHECK(read_wiggle(pushed(WiggleDirection::up, {}, 0.002, 1), wiggle_steps(0.0)).verdict ==
          WiggleVerdict::cannot_tell);
}
