// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/design_samples.h"

#include <catch2/catch.hpp>
#include <set>

#include "core/machine/simulation/machine_model.h"

using namespace eh;

namespace {

ByHabit<double> all_with(double share) {
    ByHabit<double> shares{};
    shares.fill(share);
    return shares;
}

}  // namespace

TEST_CASE("designs drawn oftener than they are met weigh less, so that shares come out as they are met",
          "[designs]") {
    // Importance sampling: the weighted share is unbiased whatever the draws are made with.
    const ByHabit<double> met = all_with(0.3);
    DesignShares drawn = shares_met(met);
    drawn.habits.fill(0.8);
    drawn.pack_empty = 0.25;
    const auto designs = spread_designs(met, drawn, 400, 7);
    REQUIRE(designs.size() == 400);
    for (std::size_t h = 0; h < habit_count; ++h) {
        double with_habit = 0.0;
        double all = 0.0;
        for (const DesignSample& design : designs) {
            with_habit += design.habits[h] ? 1.0 : 0.0;
            all += 1.0;
        }
        CHECK(with_habit / all == Approx(0.8).margin(0.01));
    }
    // One habit, the others left as they are met: the weights carry no noise of theirs.
    DesignShares one = shares_met(met);
    one.habits[2] = 0.9;
    double with_habit = 0.0;
    double empty = 0.0;
    double all = 0.0;
    for (const DesignSample& design : spread_designs(met, one, 400, 7)) {
        with_habit += design.habits[2] ? design.weight : 0.0;
        empty += design.pack_empty ? design.weight : 0.0;
        all += design.weight;
    }
    CHECK(with_habit / all == Approx(0.3).margin(0.02));
    CHECK(empty / all == Approx(empty_pack_share).margin(0.02));
}

TEST_CASE("designs as they are met differ in weight by their pack alone, and both states come early",
          "[designs]") {
    const auto designs = spread_designs(all_with(0.4), shares_met(all_with(0.4)), 16, 1);
    std::set<double> weights;
    int empty = 0;
    for (const DesignSample& design : designs) {
        weights.insert(design.weight);
        empty += design.pack_empty ? 1 : 0;
    }
    CHECK(weights.size() == 2);
    CHECK(empty == 8);
    CHECK(designs[0].pack_empty != designs[1].pack_empty);
    // The same seed gives the same designs.
    const auto again = spread_designs(all_with(0.4), shares_met(all_with(0.4)), 16, 1);
    for (std::size_t d = 0; d < designs.size(); ++d)
        CHECK(designs[d].habits == again[d].habits);
}

TEST_CASE("neighbours of a design differ from it in one thing each", "[designs]") {
    const DesignSample design = spread_designs(all_with(0.5), shares_met(all_with(0.5)), 5, 3)[3];
    const auto list = neighbours(design);
    REQUIRE(list.size() == habit_count + 2);
    CHECK(list.front().habits == design.habits);
    for (std::size_t n = 1; n < list.size(); ++n) {
        int differences = list[n].pack_empty != design.pack_empty ? 1 : 0;
        differences += list[n].pack_charge != design.pack_charge ? 1 : 0;
        for (std::size_t h = 0; h < habit_count; ++h)
            differences += list[n].habits[h] != design.habits[h] ? 1 : 0;
        CHECK(differences == 1);
        CHECK(list[n].parts == design.parts);
        CHECK(list[n].pack_charge >= 0.0);
        CHECK(list[n].pack_charge <= 1.0);
    }
}

TEST_CASE("designs in blocks begin with those of one block, and every block is spread by itself",
          "[designs]") {
    constexpr std::size_t block = 16;
    const ByHabit<double> met = all_with(0.25);
    const auto first = spread_designs(met, shares_met(met), block, 9);
    const auto all = spread_in_blocks(met, {shares_met(met)}, block, 60, 9);
    REQUIRE(all.size() == 64);
    for (std::size_t d = 0; d < block; ++d) {
        CHECK(all[d].habits == first[d].habits);
        CHECK(all[d].pack_empty == first[d].pack_empty);
        CHECK(all[d].weight == first[d].weight);
    }
    std::set<std::uint64_t> parts;
    std::set<double> charges;
    for (std::size_t from = 0; from < all.size(); from += block) {
        for (std::size_t h = 0; h < habit_count; ++h) {
            int with_habit = 0;
            for (std::size_t d = from; d < from + block; ++d)
                with_habit += all[d].habits[h] ? 1 : 0;
            CHECK(with_habit == 4);
        }
        for (std::size_t d = from; d < from + block; ++d) {
            parts.insert(all[d].parts);
            charges.insert(all[d].pack_charge);
        }
    }
    // No part values are drawn twice, and packs of either state are charged differently throughout.
    CHECK(parts.size() == all.size());
    CHECK(charges.size() == all.size() / 2);
}

TEST_CASE("designs drawn for two ideas of the machine weigh by both, so that shares come out as they are met",
          "[designs]") {
    // Multiple importance sampling with the balance heuristic is unbiased for any proposals (Veach and Guibas
    // 1995).
    const ByHabit<double> met = all_with(0.3);
    DesignShares with = shares_met(met);
    DesignShares without = shares_met(met);
    with.habits[1] = 0.92;
    without.habits[1] = 0.08;
    without.habits[4] = 0.73;
    const auto designs = spread_in_blocks(met, {with, without}, 64, 16384, 11);
    REQUIRE(designs.size() == 16384);
    double all = 0.0;
    double weighed_1 = 0.0;
    double weighed_4 = 0.0;
    int drawn_1 = 0;
    for (const DesignSample& design : designs) {
        all += design.weight;
        weighed_1 += design.habits[1] ? design.weight : 0.0;
        weighed_4 += design.habits[4] ? design.weight : 0.0;
        drawn_1 += design.habits[1] ? 1 : 0;
    }
    CHECK(weighed_1 / all == Approx(0.3).margin(0.02));
    CHECK(weighed_4 / all == Approx(0.3).margin(0.02));
    // Both ideas have their designs, in the first block already.
    CHECK(drawn_1 / 16384.0 == Approx(0.5).margin(0.02));
    int first = 0;
    for (std::size_t d = 0; d < 64; ++d)
        first += designs[d].habits[1] ? 1 : 0;
    CHECK(first == Approx(32).margin(3));
    // One idea, or the same one twice, is the plain spread.
    double twice = 0.0;
    for (const DesignSample& design : spread_in_blocks(met, {with, with}, 64, 8192, 11))
        twice += design.weight;
    double once = 0.0;
    for (const DesignSample& design : spread_in_blocks(met, {with}, 64, 8192, 11))
        once += design.weight;
    CHECK(twice == Approx(once).epsilon(0.1));
}
