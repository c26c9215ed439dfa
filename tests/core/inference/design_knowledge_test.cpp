// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/design_knowledge.h"

#include <catch2/catch.hpp>

#include "core/base/random.h"
#include "core/inference/reasoner.h"
#include "tests/support/habits.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr const char* two_ports = "usbc-dual";

ByHabit<bool> habits_by_chance(Random& random, const MachinePlan& plan) {
    ByHabit<bool> habits{};
    for (std::size_t h = 0; h < habit_count; ++h)
        habits[h] = random.uniform() < plan.knowledge().variety.habit_shares[h] && !plan.impossible_habits[h];
    return habits;
}

const HabitKnown& of(const std::vector<HabitKnown>& known, Habit habit) {
    return known[static_cast<std::size_t>(habit)];
}

}  // namespace

TEST_CASE("what was learnt moves shares both ways, and settles nothing for good", "[designs]") {
    ByHabit<double> met{};
    met.fill(0.3);
    met[0] = 0.0;
    met[1] = 1.0;
    CHECK(shares_after(met, {}) == met);
    ByHabit<double> learnt{};
    learnt.fill(2.0);
    ByHabit<double> less{};
    less.fill(-2.0);
    const auto raised = shares_after(met, learnt);
    const auto back = shares_after(raised, less);
    CHECK(raised[0] == 0.0);
    CHECK(raised[1] == 1.0);
    for (std::size_t h = 2; h < habit_count; ++h) {
        CHECK(raised[h] == Approx(0.3 * std::exp(2.0) / (0.7 + 0.3 * std::exp(2.0))));
        CHECK(back[h] == Approx(met[h]));
    }
    learnt.fill(1e6);
    CHECK(shares_after(met, learnt)[2] == Approx(0.98));
    learnt.fill(-1e6);
    CHECK(shares_after(met, learnt)[2] == Approx(0.02));
}

TEST_CASE("a lesson of one machine is bounded, and what nobody has teaches nothing", "[designs]") {
    std::vector<HabitKnown> known(habit_count, HabitKnown{Habit{}, 0.5, 0.5, {}, {}});
    for (std::size_t h = 0; h < habit_count; ++h)
        known[h].habit = static_cast<Habit>(h);
    known[0].now = 1.0;
    known[1].now = 0.0;
    known[2] = {static_cast<Habit>(2), 0.0, 0.4, {}, {}};
    known[3].now = 0.75;
    const auto learnt = learnt_of(known);
    CHECK(learnt[0] == most_learnt);
    CHECK(learnt[1] == -most_learnt);
    CHECK(learnt[2] == 0.0);
    CHECK(learnt[3] == Approx(std::log(3.0)));
    CHECK(learnt[4] == 0.0);
}

TEST_CASE("a habit is settled since the reading from which on it stays so, and by news only", "[designs]") {
    ByHabit<double> met{};
    met.fill(0.5);
    met[1] = 0.88;
    HabitCourse course(4, met);
    const double of_first[] = {0.5, 0.95, 0.6, 0.95};  // settled, open again, settled
    for (std::size_t r = 0; r < course.size(); ++r)
        course[r][0] = of_first[r];
    course[3][1] = 0.92;  // as good as before
    course[1][2] = course[2][2] = course[3][2] = 0.03;
    std::vector<Reading> readings(3);
    for (std::size_t r = 0; r < readings.size(); ++r)
        readings[r].id = std::string(1, static_cast<char>('a' + r));
    const auto known = habits_known(course, met, readings);
    CHECK(known[0].since == "c");
    CHECK(known[0].because == "a");
    CHECK_FALSE(known[1].since);
    CHECK(known[1].because == "c");
    CHECK(known[2].since == "a");
    CHECK(known[2].now == Approx(0.03));
    CHECK_FALSE(known[3].since);
    CHECK_FALSE(known[3].because);
    const auto mean = mean_of({course, HabitCourse(4, met)});
    CHECK(mean[3][0] == Approx(0.5 * (0.95 + 0.5)));
}

TEST_CASE("no reading tells anything of a design", "[designs][slow]") {
    const auto store = std::make_shared<PredictionStore>(shared_table(two_ports).plan());
    const auto known = Reasoner(store).design_known({}, {});
    REQUIRE(known.size() == habit_count);
    for (const HabitKnown& habit : known) {
        CHECK(!habit.since);
        CHECK(!habit.because);
        CHECK(habit.met ==
              store->plan().knowledge().variety.habit_shares[static_cast<std::size_t>(habit.habit)]);
    }
}

TEST_CASE("habits that readings settle are those of the machine", "[designs][slow]") {
    const auto store = std::make_shared<PredictionStore>(shared_table(two_ports).plan());
    const Reasoner reasoner(store);
    Random random(11);
    int settled = 0;
    int right = 0;
    constexpr int machines = 6;
    for (int m = 0; m < machines; ++m) {
        const auto habits = habits_by_chance(random, store->plan());
        const auto readings = readings_of(store->plan(), {{"memory_unreadable", "mem"}}, habits);
        const auto known = reasoner.design_known({}, readings, "mem");
        REQUIRE(known.size() == habit_count);
        for (const HabitKnown& habit : known) {
            if (!habit.since)
                continue;
            ++settled;
            right += (habit.now > 0.5) == habits[static_cast<std::size_t>(habit.habit)] ? 1 : 0;
            CHECK(habit.because);
        }
    }
    // The last is a bound on luck: 0.9 and more is said of each of them.
    CHECK(settled >= 2 * machines);
    CHECK(right >= 0.8 * settled);
}

TEST_CASE("what was learnt of earlier machines of a kind is where the next one starts", "[designs][slow]") {
    const auto store = std::make_shared<PredictionStore>(shared_table(two_ports).plan());
    const Reasoner reasoner(store);
    ByHabit<bool> habits{};
    habits[static_cast<std::size_t>(Habit::rail_rests_low_without_pack)] = true;
    const auto readings = readings_of(store->plan(), {{"receptacle_cc2_open", "rec2"}}, habits);
    // It works at the other port, so that its rail is seen without a pack.
    const auto lesson = learnt_of(reasoner.design_known({}, readings, "rec2"));
    Beforehand second;
    second.learnt = lesson;
    const auto start = reasoner.design_known(second, {});
    const auto before = reasoner.design_known({}, {});
    const Habit habit = Habit::rail_rests_low_without_pack;
    CHECK(of(start, habit).met > of(before, habit).met);
    CHECK(of(start, habit).now > of(before, habit).now);
    REQUIRE(reasoner.weigh(second, readings));
}
