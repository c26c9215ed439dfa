// SPDX-License-Identifier: GPL-3.0-or-later
// A soak by its recording: as many drop-outs as were put in, none where there are none.
#include "core/proof/soak.h"

#include "core/base/random.h"

using namespace eh;

namespace {

struct Out {
    double from_s = 0.0;
    double to_s = 0.0;
};

std::vector<MeterSample> stream(double seconds, double every_s, const std::vector<Out>& outs) {
    Random random(1);
    std::vector<MeterSample> samples;
    for (double t = 0.0; t <= seconds; t += every_s) {
        const bool out =
            std::any_of(outs.begin(), outs.end(), [t](const Out& o) { return t >= o.from_s && t < o.to_s; });
        if (!out)
            samples.push_back({1000.0 + t, 19.8 + 0.01 * random.normal(), 1.5 + 0.05 * random.normal()});
    }
    return samples;
}

}  // namespace

TEST_CASE("an hour without a gap holds, whatever the meter's pace", "[soak]") {
    const double every_s = GENERATE(0.02, 0.1, 1.0);
    const SoakReading soak = read_soak(stream(3600.0, every_s, {}), 1000.0, 4600.0);
    CHECK(soak.held);
    CHECK(soak.recorded);
    CHECK(soak.lit_s == Approx(3600.0).margin(2.0));
    CHECK(soak.mean_volts == Approx(19.8).margin(0.01));
    CHECK(soak.mean_amps == Approx(1.5).margin(0.01));
    CHECK_THAT(soak.says, Catch::Contains("without a drop-out"));
}

TEST_CASE("as many drop-outs are read as were put in", "[soak]") {
    Random random(9);
    for (int round = 0; round < 30; ++round) {
        std::vector<Out> outs;
        double longest_s = 0.0;
        for (double t = 60.0; t < 3400.0; t += 120.0 + 900.0 * random.uniform()) {
            const double length_s = 1.0 + 20.0 * random.uniform();
            outs.push_back({t, t + length_s});
            longest_s = std::max(longest_s, length_s);
        }
        const SoakReading soak = read_soak(stream(3600.0, 0.1, outs), 1000.0, 4600.0);
        CHECK(soak.drop_outs == static_cast<int>(outs.size()));
        CHECK(soak.longest_out_s == Approx(longest_s).margin(0.25));
        CHECK_FALSE(soak.held);
    }
}

TEST_CASE("dark at the end is a drop-out, before the first sample it is not", "[soak]") {
    const SoakReading ended = read_soak(stream(1800.0, 0.1, {}), 1000.0, 4600.0);
    CHECK(ended.drop_outs == 1);
    CHECK(ended.longest_out_s == Approx(1800.0).margin(0.2));
    const SoakReading late = read_soak(stream(3600.0, 0.1, {{0.0, 1200.0}}), 1000.0, 4600.0);
    CHECK(late.held);
    CHECK_FALSE(late.recorded);
    CHECK_THAT(late.says, Catch::Contains("40 min of 60 min"));
    const SoakReading none = read_soak({}, 1000.0, 4600.0);
    CHECK(none.held);
    CHECK_FALSE(none.recorded);
    CHECK_THAT(none.says, Catch::Contains("clock alone"));
}
