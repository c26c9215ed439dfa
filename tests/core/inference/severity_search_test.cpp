// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/severity_search.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/inference/reasoner.h"
#include "core/prediction/sample_spread.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr std::size_t samples = 48;

// A bump of the given width around a quantile.
std::vector<double> fit_around(double middle, double width) {
    std::vector<double> fit;
    for (std::size_t s = 0; s < samples; ++s)
        fit.push_back(std::exp(-0.5 * std::pow((evenly(s) - middle) / width, 2)));
    return fit;
}

}  // namespace

TEST_CASE("a range of severities is as narrow as what fits, and none where all fit", "[prediction]") {
    const auto narrow = narrowest_range(fit_around(0.7, 0.01));
    REQUIRE(narrow);
    CHECK(narrow->from < 0.7);
    CHECK(narrow->to > 0.7);
    CHECK(narrow->to - narrow->from <= 0.125);
    CHECK_FALSE(narrowest_range(fit_around(0.5, 10.0)));
    // Two severities far apart: neither is left out.
    auto twice = fit_around(0.1, 0.01);
    const auto other = fit_around(0.9, 0.01);
    for (std::size_t s = 0; s < samples; ++s)
        twice[s] += other[s];
    CHECK_FALSE(narrowest_range(twice));
    CHECK_FALSE(narrowest_range(std::vector<double>(samples, 0.0)));
}

TEST_CASE("a short that punches through is found by its ohms cold and its amps under volts", "[prediction]") {
    // Found in the demo: no sample of the protector had both, and a receptacle that cannot punch through led.
    const std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 19.9, 1.58),
                                        meter_reading("b", plugged("p2"), MeterPattern::cycling, 4.06, 3.31),
                                        open_reading("c", for_ohms(), "vbus1"),
                                        ohms_reading("d", for_ohms(), "vbus2", 3.3)};
    const Reasoner reasoner(shared_table(chained).store());
    const auto suspects = reasoner.weigh({}, readings);
    REQUIRE(suspects);
    const Ranking& ranking = suspects->ranking;
    CHECK(ranking.parts.front().block == "sp2");
    // What cannot punch through is far behind: 3.3 ohm at 4 V draw little more than an ampere, so that one of
    // the numbers would have to be odd. With 384 samples instead of 48 the two have 0.66 and 0.087.
    CHECK(ranking.parts.front().probability > 0.6);
    CHECK(suspicion_of(ranking, "rec2") < 0.2 * ranking.parts.front().probability);
    // The shorts of one net are looked at in the same range, so that they show the same.
    std::optional<SeverityRange> range;
    for (const Hypothesis& hypothesis : suspects->table->hypotheses()) {
        if (hypothesis.faults.size() != 1 || (hypothesis.faults.front().fault != "protector_shorted" &&
                                              hypothesis.faults.front().fault != "capacitor_shorted" &&
                                              hypothesis.faults.front().fault != "receptacle_shorted"))
            continue;
        const FaultInstance& fault = hypothesis.faults.front();
        if (fault.block != "sp2" && fault.block != "cv2" && fault.block != "rec2")
            continue;
        REQUIRE(fault.severity);
        CHECK(fault.severity->to - fault.severity->from <= 0.125);
        CHECK((!range || range == fault.severity));
        range = fault.severity;
    }
    CHECK(range.has_value());
}
