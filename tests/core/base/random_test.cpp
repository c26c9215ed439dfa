// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/random.h"

#include <cmath>

using namespace eh;

TEST_CASE("the normal quantile has the values of the tables", "[base]") {
    // NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.1 (from memory).
    struct Row {
        double p;
        double z;
    };
    const auto row = GENERATE(values<Row>({{0.5, 0.0},
                                           {0.84134474606854, 1.0},
                                           {0.9, 1.2815515655446},
                                           {0.95, 1.6448536269515},
                                           {0.975, 1.9599639845401},
                                           {0.99, 2.3263478740408},
                                           {0.999, 3.0902323061678},
                                           {0.9999, 3.7190164854557}}));
    CAPTURE(row.p);
    CHECK(normal_quantile(row.p) == Approx(row.z).epsilon(2e-9).margin(2e-9));
    CHECK(normal_quantile(1.0 - row.p) == Approx(-row.z).epsilon(1e-7).margin(2e-9));
}

TEST_CASE("the quantile inverts the distribution function", "[base]") {
    for (double z = -5.0; z <= 5.0; z += 0.05) {
        const double p = 0.5 * std::erfc(-z / std::sqrt(2.0));
        CHECK(normal_quantile(p) == Approx(z).epsilon(1e-6).margin(1e-8));
    }
}

TEST_CASE("the quantile never decreases", "[base]") {
    double last = normal_quantile(1e-9);
    for (double p = 1e-6; p < 1.0; p += 1e-3) {
        const double z = normal_quantile(p);
        CHECK(z >= last);
        last = z;
    }
}

TEST_CASE("a seed gives the same numbers for ever", "[base]") {
    // Reference output of SplitMix64 for seed 1234567 (Vigna's public-domain C code, from memory).
    Random random(1234567);
    CHECK(random.next() == 6457827717110365317ULL);
    CHECK(random.next() == 3203168211198807973ULL);
    CHECK(random.next() == 9817491932198370423ULL);
}

TEST_CASE("uniform draws fill the unit interval evenly", "[base]") {
    Random random(42);
    constexpr int draws = 100'000;
    constexpr int cells = 20;
    std::vector<int> counts(cells, 0);
    for (int i = 0; i < draws; ++i) {
        const double u = random.uniform();
        REQUIRE(u >= 0.0);
        REQUIRE(u < 1.0);
        ++counts[static_cast<std::size_t>(u * cells)];
    }
    double chi_squared = 0.0;
    const double expected = static_cast<double>(draws) / cells;
    for (const int count : counts)
        chi_squared += (count - expected) * (count - expected) / expected;
    // 99.9 % point of chi squared with 19 degrees of freedom (tables, from memory): 43.8.
    CHECK(chi_squared < 43.8);
}

TEST_CASE("normal draws have mean 0, deviation 1 and normal tails", "[base]") {
    Random random(43);
    constexpr int draws = 100'000;
    double sum = 0.0;
    double squares = 0.0;
    int beyond_two = 0;
    for (int i = 0; i < draws; ++i) {
        const double z = random.normal();
        sum += z;
        squares += z * z;
        beyond_two += std::abs(z) > 1.96 ? 1 : 0;
    }
    // Five standard errors each.
    CHECK(sum / draws == Approx(0.0).margin(5.0 / std::sqrt(draws)));
    CHECK(squares / draws == Approx(1.0).margin(5.0 * std::sqrt(2.0 / draws)));
    CHECK(beyond_two / static_cast<double>(draws) ==
          Approx(0.05).margin(5.0 * std::sqrt(0.05 * 0.95 / draws)));
}

TEST_CASE("below() stays below and reaches every number", "[base]") {
    Random random(44);
    std::vector<int> seen(7, 0);
    for (int i = 0; i < 1000; ++i) {
        const int n = random.below(7);
        REQUIRE(n >= 0);
        REQUIRE(n < 7);
        ++seen[static_cast<std::size_t>(n)];
    }
    for (const int count : seen)
        CHECK(count > 0);
}
