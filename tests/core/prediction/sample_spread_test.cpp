// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/sample_spread.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/machine/model/net_index.h"
#include "core/prediction/prediction_store.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("severities drawn densely in a range weigh as they are met", "[prediction]") {
    // Importance sampling: for any range, sums over the samples come to the integral over the unit stretch.
    for (const SeverityRange range :
         {SeverityRange{0.0, 0.25}, SeverityRange{0.4375, 0.5}, SeverityRange{0.875, 1.0}, SeverityRange{}}) {
        constexpr int count = 4000;
        double weights = 0.0;
        double squares = 0.0;
        int inside = 0;
        double before = -1.0;
        for (int i = 0; i < count; ++i) {
            const SeverityDraw draw = severity_draw((i + 0.5) / count, range);
            CHECK(draw.quantile > before);
            before = draw.quantile;
            weights += draw.weight / count;
            squares += draw.weight * draw.quantile * draw.quantile / count;
            inside += draw.quantile >= range.from && draw.quantile < range.to ? 1 : 0;
        }
        CAPTURE(range.from, range.to);
        CHECK(weights == Approx(1.0).margin(0.005));
        CHECK(squares == Approx(1.0 / 3.0).margin(0.005));
        CHECK(inside > 0.75 * count);
    }
    CHECK(severity_draw(0.3, {}).quantile == 0.3);
    CHECK(severity_draw(0.3, {}).weight == 1.0);
}

TEST_CASE("severity and knee of few samples cover the square of both evenly", "[prediction]") {
    // Star discrepancy over a grid of boxes from the corner (Niederreiter 1992, from memory): random points
    // of this number are off by some 0.1.
    constexpr std::size_t samples = 48;
    double worst = 0.0;
    for (double a = 0.1; a < 1.0; a += 0.1) {
        for (double b = 0.1; b < 1.0; b += 0.1) {
            double inside = 0.0;
            for (std::size_t i = 0; i < samples; ++i)
                inside += evenly(i) < a && evenly_beside(i) < b ? 1.0 : 0.0;
            worst = std::max(worst, std::abs(inside / samples - a * b));
        }
    }
    CHECK(worst < 0.06);
}

TEST_CASE("a machine whose severity is looked at closely shows the same on the whole", "[prediction]") {
    PredictionOptions options;
    options.samples = 480;
    PredictionStore store(shared_table(chained).plan(), options);
    const auto vbus = static_cast<std::size_t>(net_index(store.plan().topology(), "vbus2"));
    const auto share_below = [&](const FaultInstance& fault, double ohms) {
        const auto machine = store.machine({fault});
        REQUIRE(store.simulate_ohms({machine}, for_ohms()));
        const auto weights = store.weights(machine);
        const auto& seen = (*store.ohms(machine, for_ohms()))[vbus];
        double share = 0.0;
        for (std::size_t s = 0; s < seen.size(); ++s)
            share += seen[s] < ohms ? weights[s] : 0.0;
        return share;
    };
    FaultInstance fault{"protector_shorted", "sp2"};
    for (const double ohms : {0.3, 1.0, 3.0, 10.0}) {
        fault.severity = std::nullopt;
        const double met = share_below(fault, ohms);
        fault.severity = SeverityRange{0.75, 0.875};
        CAPTURE(ohms);
        CHECK(share_below(fault, ohms) == Approx(met).margin(0.04));
    }
}
