// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>

#include "core/base/random.h"
#include "core/trace/change_points.h"

using namespace eh;

namespace {

// Annual flow of the Nile at Aswan, 1871 to 1970, in 1e8 cubic metres: data set Nile of the package
// r-base-core (from there into this list). Cobb, "The problem of the Nile: conditional solution to a
// changepoint problem", Biometrika 65 (1978), puts the change after 1898.
const std::vector<double> nile{
    1120, 1160, 963,  1210, 1160, 1160, 813,  1230, 1370, 1140, 995,  935,  1110, 994, 1020, 960,  1180,
    799,  958,  1140, 1100, 1210, 1150, 1250, 1260, 1220, 1030, 1100, 774,  840,  874, 694,  940,  833,
    701,  916,  692,  1020, 1050, 969,  831,  726,  456,  824,  702,  1120, 1100, 832, 764,  821,  768,
    845,  864,  862,  698,  845,  744,  796,  1040, 759,  781,  865,  845,  944,  984, 897,  822,  1010,
    771,  676,  649,  846,  812,  742,  801,  1040, 860,  874,  848,  890,  744,  749, 838,  1050, 918,
    986,  797,  923,  975,  815,  1020, 906,  901,  1170, 912,  746,  919,  718,  714, 740};
constexpr int first_year = 1871;

}  // namespace

TEST_CASE("the Nile's flow changes once, after 1898", "[trace]") {
    REQUIRE(nile.size() == 100);
    const auto segments = level_segments(nile);
    REQUIRE(segments.size() == 2);
    CHECK(first_year + static_cast<int>(segments[1].first) - 1 == 1898);
    CHECK(segments[0].mean == Approx(1097.75).epsilon(1e-6));  // means of the two stretches, by R
    CHECK(segments[1].mean == Approx(849.9722).epsilon(1e-6));
}

TEST_CASE("noise alone changes seldom, and its size is found beside changes", "[trace]") {
    int changed = 0;
    double mean_noise = 0.0;
    constexpr int runs = 200;
    for (std::uint64_t seed = 0; seed < runs; ++seed) {
        Random random(seed);
        std::vector<double> values(500);
        for (double& value : values)
            value = 5.0 + 0.02 * random.normal();
        changed += level_segments(values).size() > 1 ? 1 : 0;
        for (std::size_t i = 250; i < values.size(); ++i)
            values[i] += 15.0;
        mean_noise += noise_of(values) / runs;
    }
    CHECK(mean_noise == Approx(0.02).epsilon(0.02));
    CHECK(changed <= 10);
}

TEST_CASE("steps of any size above the noise are found where they are", "[trace]") {
    Random random(7);
    for (int run = 0; run < 100; ++run) {
        std::vector<double> values;
        std::vector<std::size_t> starts;
        double level = 5.0;
        for (int step = 0; step < 6; ++step) {
            starts.push_back(values.size());
            const int length = 40 + random.below(400);
            for (int i = 0; i < length; ++i)
                values.push_back(level + 0.02 * random.normal());
            level += (random.below(2) == 0 ? 1.0 : -1.0) * (0.3 + 4.0 * random.uniform());
        }
        for (const std::size_t block : {1U, 32U}) {
            ChangePointOptions options;
            options.noise = 0.02;
            options.block = block;
            const auto segments = level_segments(values, options);
            CAPTURE(run, block);
            REQUIRE(segments.size() == starts.size());
            std::size_t covered = 0;
            for (std::size_t s = 0; s < segments.size(); ++s) {
                CHECK(segments[s].first == starts[s]);
                CHECK(segments[s].first == covered);
                covered += segments[s].count;
            }
            CHECK(covered == values.size());
        }
    }
}

TEST_CASE("series of nothing and of one value are segmented without fuss", "[trace]") {
    CHECK(level_segments({}).empty());
    CHECK(level_segments(std::vector<double>{3.0}).size() == 1);
    CHECK(level_segments(std::vector<double>(1000, 20.0)).size() == 1);
}
