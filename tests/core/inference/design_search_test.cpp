// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/design_search.h"

#include <catch2/catch.hpp>

#include "core/inference/reasoner.h"
#include "tests/support/habits.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr const char* dual = "usbc-dual";

std::vector<DesignSample> designs(std::size_t count) {
    const auto& met = shipped_knowledge().variety.habit_shares;
    return spread_designs(met, shares_met(met), count, 1);
}

}  // namespace

TEST_CASE("one design that fits counts as one, designs that fit alike as all of them", "[designs]") {
    auto list = designs(16);
    for (DesignSample& design : list)
        design.weight = 1.0;
    CHECK(effective_designs(std::vector<double>(16, -40.0), list) == Approx(16.0));
    std::vector<double> one(16, -400.0);
    one[5] = -20.0;
    CHECK(effective_designs(one, list) == Approx(1.0));
    one[6] = -20.0;
    CHECK(effective_designs(one, list) == Approx(2.0));
}

TEST_CASE("habits are drawn as far as the readings speak for them, and none is shut out", "[designs]") {
    const DesignShares usual = shares_met(shipped_knowledge().variety.habit_shares);
    const DesignSample design = designs(4)[1];
    std::vector<double> evidence(neighbours(design).size(), -50.0);
    const DesignShares met = shares_that_fit(usual, design, evidence);
    CHECK(met == usual);  // nothing changes anything
    evidence[1] = -20.0;  // the first habit turned over: far better
    evidence[2] = -90.0;  // the second: far worse
    const DesignShares shares = shares_that_fit(usual, design, evidence);
    CHECK((shares.habits[0] > 0.5) == !design.habits[0]);
    CHECK((shares.habits[1] > 0.5) == design.habits[1]);
    for (std::size_t h = 0; h < habit_count; ++h) {
        CHECK(shares.habits[h] > 0.0);
        CHECK(shares.habits[h] < 1.0);
    }
    // A library that holds one alternative only stays with it, whatever the readings say: designs with the
    // other would weigh nothing, and all of them drawn would leave no design at all.
    DesignShares one_way = usual;
    one_way.habits[0] = 0.0;
    one_way.habits[1] = 1.0;
    const DesignShares kept = shares_that_fit(one_way, design, evidence);
    CHECK(kept.habits[0] == 0.0);
    CHECK(kept.habits[1] == 1.0);
}

TEST_CASE("a fault is found in a machine of habits that hardly any of the first designs has together",
          "[designs][slow]") {
    const auto store = std::make_shared<PredictionStore>(shared_table(dual).plan());
    // The opposite of most in every habit that shows with the machine plugged in.
    ByHabit<bool> habits{};
    for (const Habit habit : {Habit::asks_once_rail_is_up, Habit::rail_rests_low_without_pack,
                              Habit::five_volts_gate_start, Habit::always_on_gates_five_volts})
        habits[static_cast<std::size_t>(habit)] = true;
    const auto readings = readings_of(store->plan(), {{"memory_unreadable", "mem"}}, habits);
    const Reasoner reasoner(store);
    const auto suspects = reasoner.weigh({}, readings);
    REQUIRE(suspects);
    // The controller that does not ask, its memory or the bus between them: the volts of rails tell no more.
    double at_the_controller = 0.0;
    for (const PartSuspicion& part : suspects->ranking.parts) {
        if (part.block == "mem" || part.block == "pc" || part.block == "bl" || part.block == "bpu")
            at_the_controller += part.probability;
    }
    CHECK(at_the_controller > 0.8);

    SECTION("the answer hangs on what is asked, not on what was asked before") {
        const auto others = readings_of(store->plan(), {{"charger_circuit_dead", "chg"}}, {});
        REQUIRE(reasoner.weigh({}, others));
        const auto again = reasoner.weigh({}, readings);
        REQUIRE(again);
        CHECK(again->ranking.parts.front().probability == suspects->ranking.parts.front().probability);
    }
}
