// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/distributions.h"

#include <catch2/catch.hpp>
#include <cmath>

using namespace eh;

TEST_CASE("quantiles of Student's t are those of the table", "[base][distributions]") {
    // NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2.
    CHECK(student_quantile(0.975, 1) == Approx(12.706).epsilon(1e-4));
    CHECK(student_quantile(0.95, 2) == Approx(2.920).epsilon(2e-4));
    CHECK(student_quantile(0.975, 10) == Approx(2.228).epsilon(2e-4));
    CHECK(student_quantile(0.99, 30) == Approx(2.457).epsilon(2e-4));
    CHECK(student_quantile(0.025, 10) == Approx(-student_quantile(0.975, 10)));
}

TEST_CASE("a beta quantile takes its share, and is the power law where one shape is 1",
          "[base][distributions]") {
    // F(x) = x^a for b = 1, and the mirrored one for a = 1.
    for (const double a : {0.5, 1.0, 3.0}) {
        for (const double p : {0.05, 0.5, 0.95}) {
            CHECK(beta_quantile(a, 1.0, p) == Approx(std::pow(p, 1.0 / a)));
            CHECK(beta_quantile(1.0, a, p) == Approx(1.0 - std::pow(1.0 - p, 1.0 / a)));
        }
    }
    CHECK(beta_quantile(4.0, 4.0, 0.5) == Approx(0.5));
}

TEST_CASE("so few of a Poisson count are seen with the chance that is left", "[base][distributions]") {
    // None seen: exp(-mean) = 5 %, the rule of three (Hanley and Lippman-Hand 1983).
    CHECK(poisson_upper(0, 0.95) == Approx(-std::log(0.05)));
    for (const int counted : {1, 3, 12}) {
        const double mean = poisson_upper(counted, 0.95);
        double term = std::exp(-mean);
        double at_most = term;
        for (int k = 1; k <= counted; ++k) {
            term *= mean / k;
            at_most += term;
        }
        CHECK(at_most == Approx(0.05));
    }
}
