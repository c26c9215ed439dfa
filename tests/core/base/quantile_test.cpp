// SPDX-License-Identifier: GPL-3.0-or-later
// Quantiles against a whole sort, and what has no place in an order.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/quantile.h"
#include "core/base/random.h"

using namespace eh;

TEST_CASE("a quantile is the value at its place in order", "[base][quantile]") {
    Random random(7);
    for (int count = 1; count < 60; ++count) {
        std::vector<double> values;
        for (int i = 0; i < count; ++i)
            values.push_back(random.normal());
        std::vector<double> sorted = values;
        std::sort(sorted.begin(), sorted.end());
        for (const double share : {0.0, 0.1, 0.5, 0.9, 1.0}) {
            const auto place = std::min(sorted.size() - 1, static_cast<std::size_t>(share * count));
            CHECK(quantile(values, share) == sorted[place]);
        }
        CHECK(median(values) == sorted[sorted.size() / 2]);
    }
}

TEST_CASE("values that are no numbers are left out of a quantile", "[base][quantile]") {
    const double none = std::nan("");
    CHECK(median(std::vector<double>{none, 1.0, none, 2.0, 3.0, none}) == 2.0);
    CHECK(std::isnan(median(std::vector<double>{none, none})));
    CHECK(std::isnan(median(std::vector<float>{})));
}
