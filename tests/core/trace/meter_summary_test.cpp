// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/meter_summary.h"

#include <cmath>

#include "core/base/random.h"
#include "core/trace/inline_meter.h"

using namespace eh;

namespace {

std::vector<MeterSample> stream(double seconds, double rate_hz, double (*volts)(double),
                                double (*amps)(double)) {
    std::vector<MeterSample> samples;
    for (int i = 0; i < static_cast<int>(seconds * rate_hz); ++i) {
        const double t_s = i / rate_hz;
        if (volts(t_s) > 0.0)
            samples.push_back({t_s, volts(t_s), amps(t_s)});
    }
    return samples;
}

}  // namespace

TEST_CASE("no sample in the stretch is dark, not 0 V", "[trace]") {
    const MeterSummary summary = summarise({}, 0.0, 10.0);
    CHECK(summary.pattern == MeterPattern::dark);
}

TEST_CASE("a steady stream gives its mean and spread", "[trace]") {
    Random random(3);
    std::vector<MeterSample> samples;
    for (int i = 0; i < 2000; ++i)
        samples.push_back({i * 0.01, 20.0 + 0.05 * random.normal(), 1.5 + 0.02 * random.normal()});
    const MeterSummary summary = summarise(samples, 0.0, 20.0);
    CHECK(summary.pattern == MeterPattern::steady);
    // Standard errors of mean and deviation at n = 2000, five of them.
    CHECK(summary.volts == Approx(20.0).margin(5 * 0.05 / std::sqrt(2000.0)));
    CHECK(summary.volts_spread == Approx(0.05).epsilon(5 / std::sqrt(4000.0)));
    CHECK(summary.amps == Approx(1.5).margin(5 * 0.02 / std::sqrt(2000.0)));
}

TEST_CASE("a meter that goes dark again and again is cycling, with its period", "[trace]") {
    const auto samples = stream(
        12.0, 50.0, [](double t) { return std::fmod(t, 2.1) < 0.5 ? 5.0 : 0.0; }, [](double) { return 0.2; });
    const MeterSummary summary = summarise(samples, 0.0, 12.0);
    CHECK(summary.pattern == MeterPattern::cycling);
    CHECK(summary.period_s == Approx(2.1).margin(0.05));
    CHECK(summary.volts == Approx(5.0));
}

TEST_CASE("volts that rise and fall without going dark are cycling too", "[trace]") {
    const auto samples = stream(
        12.0, 50.0, [](double t) { return std::fmod(t, 1.5) < 0.7 ? 5.0 : 3.6; }, [](double) { return 1.0; });
    CHECK(summarise(samples, 0.0, 12.0).pattern == MeterPattern::cycling);
}

TEST_CASE("a climb from 5 V to 20 V is one level reached, not a cycle", "[trace]") {
    const auto samples = stream(
        12.0, 50.0, [](double t) { return t < 2.0 ? 5.0 : 20.0; }, [](double) { return 0.5; });
    CHECK(summarise(samples, 0.0, 12.0).pattern == MeterPattern::steady);
}

TEST_CASE("a plug that goes in during the stretch and climbs its contracts is not cycling", "[trace]") {
    const auto samples = stream(
        12.0, 50.0, [](double t) { return t < 1.0   ? 0.0
                                          : t < 1.1 ? 5.0
                                          : t < 1.3 ? 9.0
                                                    : 20.0; },
        [](double) { return 0.5; });
    CHECK(summarise(samples, 0.0, 12.0).pattern == MeterPattern::steady);
}

TEST_CASE("a retry that climbs to 20 V and collapses counts once a cycle", "[trace]") {
    const auto samples = stream(
        13.0, 50.0,
        [](double t) {
            const double in_cycle = std::fmod(t, 2.5);
            return in_cycle < 0.5 ? 5.0 : in_cycle < 1.0 ? 20.0 : 0.0;
        },
        [](double) { return 0.5; });
    const MeterSummary summary = summarise(samples, 0.0, 13.0);
    CHECK(summary.pattern == MeterPattern::cycling);
    CHECK(summary.period_s == Approx(2.5).margin(0.05));
}

TEST_CASE("lit for a moment and then dark is a flash", "[trace]") {
    const auto samples = stream(
        2.0, 50.0, [](double) { return 4.0; }, [](double) { return 3.0; });
    CHECK(summarise(samples, 0.0, 12.0).pattern == MeterPattern::flash);
}

TEST_CASE("cutting and shifting time does not change a summary", "[trace]") {
    auto samples = stream(
        10.0, 50.0, [](double t) { return 5.0 + std::sin(t) * 0.1; }, [](double) { return 0.2; });
    const MeterSummary before = summarise(samples, 2.0, 8.0);
    for (MeterSample& sample : samples)
        sample.t_s += 1000.0;
    const MeterSummary after = summarise(samples, 1002.0, 1008.0);
    CHECK(after.volts == Approx(before.volts));
    CHECK(after.volts_spread == Approx(before.volts_spread));
    CHECK(after.pattern == before.pattern);
}

TEST_CASE("patterns and their words are inverse", "[trace]") {
    for (const MeterPattern pattern :
         {MeterPattern::dark, MeterPattern::steady, MeterPattern::cycling, MeterPattern::flash})
        CHECK(meter_pattern_from(to_text(pattern)) == pattern);
    CHECK_FALSE(meter_pattern_from("purple").has_value());
}

TEST_CASE("the inline meter lives on VBUS and takes about a second to wake", "[trace]") {
    // Common practice: below roughly 3-4 V it goes out and takes about a second to start again.
    InlineMeter meter({3.3, 1.0});
    CHECK_FALSE(meter.lit(0.0, 5.0));
    CHECK_FALSE(meter.lit(0.9, 5.0));
    CHECK(meter.lit(1.0, 5.0));
    CHECK(meter.lit(5.0, 3.4));
    CHECK_FALSE(meter.lit(5.1, 3.2));
    CHECK_FALSE(meter.lit(5.2, 5.0));
    CHECK(meter.lit(6.2, 5.0));
}
