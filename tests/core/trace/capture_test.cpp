// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/capture.h"

#include <cmath>
#include <vector>

using namespace eh;

namespace {

// The plug goes in at plug_s: 5 V at once, 20 V after half a second, 1.5 A after two.
std::vector<MeterSample> plugged(double plug_s, double until_s) {
    std::vector<MeterSample> samples;
    for (double t = plug_s; t < until_s; t += 0.02)
        samples.push_back({t, t - plug_s < 0.5 ? 5.0 : 20.0, t - plug_s < 2.0 ? 0.1 : 1.5});
    return samples;
}

Capture taken(const std::variant<Capture, NotYet>& result) {
    REQUIRE(std::holds_alternative<Capture>(result));
    return std::get<Capture>(result);
}

}  // namespace

TEST_CASE("the climb after plugging in does not count into a capture, however slow the hand", "[trace]") {
    for (const double hand_s : {0.1, 0.7, 3.0, 20.0}) {
        const double plug_s = 50.0 + hand_s;
        const auto samples = plugged(plug_s, plug_s + 30.0);
        for (const double wait_s : {5.5, 9.0, 25.0}) {
            CAPTURE(hand_s, wait_s);
            const Capture seen = taken(capture(samples, 50.0, plug_s + wait_s));
            CHECK(seen.summary.pattern == MeterPattern::steady);
            CHECK(seen.summary.volts == Approx(20.0));
            CHECK(seen.summary.amps == Approx(1.5));
            CHECK(seen.seconds <= 10.0);
        }
    }
}

TEST_CASE("nothing is taken before there is something to take", "[trace]") {
    const auto samples = plugged(51.0, 80.0);
    CHECK(std::get<NotYet>(capture({}, 50.0, 52.0)) == NotYet::plug_just_moved);
    CHECK(std::get<NotYet>(capture(samples, 50.0, 54.0)) == NotYet::just_lit);
    // What was seen before the bench changed is of another bench.
    CHECK(std::get<NotYet>(capture(samples, 79.8, 82.0)) == NotYet::plug_just_moved);
}

TEST_CASE("a meter that never lights is dark, one that lit for a moment is a flash", "[trace]") {
    CHECK(taken(capture({}, 50.0, 60.0)).summary.pattern == MeterPattern::dark);
    const std::vector<MeterSample> moment{{51.0, 4.5, 2.0}, {51.02, 4.5, 2.0}};
    CHECK(taken(capture(moment, 50.0, 70.0)).summary.pattern == MeterPattern::flash);
}

TEST_CASE("a source that tries again and again is cycling in a capture", "[trace]") {
    std::vector<MeterSample> samples;
    for (double t = 51.0; t < 80.0; t += 0.02) {
        if (std::fmod(t, 1.8) < 0.4)
            samples.push_back({t, 4.6, 2.8});
    }
    const Capture seen = taken(capture(samples, 50.0, 75.0));
    CHECK(seen.summary.pattern == MeterPattern::cycling);
    CHECK(seen.summary.period_s == Approx(1.8).margin(0.05));
}
