// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/hour_plan.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <numeric>
#include <tuple>

#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

struct Asked {
    std::vector<Reading> readings;
    BenchConfiguration now;
    Ranking ranking;
};

Asked after(std::vector<Reading> readings, const BenchConfiguration& now) {
    PredictionTable& table = shared_table(barrel);
    Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    return {std::move(readings), now, std::move(ranking)};
}

std::optional<HourPlan> hour_after(const Asked& asked, const HourOptions& options = {},
                                   const std::function<bool()>& stop = {},
                                   const std::function<void(double)>& progress = {}) {
    return plan_hour(shared_table(barrel), asked.ranking, asked.readings, asked.now, shipped_costs(), {},
                     options, stop, progress);
}

// Calls see(step, acts before it) for each step of the plan.
template <typename See>
void over_steps(const std::vector<HourStep>& steps, std::vector<const NextAct*> before, const See& see) {
    for (const HourStep& step : steps) {
        see(step, before);
        std::vector<const NextAct*> further = before;
        further.push_back(&step.act);
        for (const HourFork& fork : step.forks)
            over_steps(fork.then, further, see);
    }
}

HourOptions short_plan() {
    HourOptions options;
    options.most_steps = 6;
    return options;
}

}  // namespace

TEST_CASE("the hour begins with what is next, and each fork says what would be proposed then", "[hour]") {
    const Asked asked =
        after({meter_reading("a", plugged("p1"), MeterPattern::steady, 19.2, 0.02)}, plugged("p1"));
    double told = 0.0;
    const auto plan = hour_after(asked, short_plan(), {}, [&](double share) {
        CHECK(share >= 0.0);
        CHECK(share <= 1.0);
        told = share;
    });
    REQUIRE(plan);
    CHECK(told > 0.0);
    REQUIRE(plan->first.size() == 1);
    PredictionTable& table = shared_table(barrel);
    const NextStep next = next_acts(table, asked.ranking, asked.readings, asked.now, shipped_costs());
    CHECK(plan->first.front().act.reading == next.acts.front().reading);
    CHECK(plan->first.front().act.place == next.acts.front().place);
    CHECK(plan->first.front().act.configuration == next.acts.front().configuration);
    std::size_t steps = 0;
    over_steps(plan->first, {}, [&](const HourStep& step, const std::vector<const NextAct*>& before) {
        CAPTURE(describe(step.act, table.plan()));
        ++steps;
        double minutes = 0.0;
        for (const NextAct* act : before) {
            minutes += act->minutes;
            CHECK_FALSE(act->repair);  // nothing is planned beyond a repair
            CHECK(std::tuple(act->reading, act->place, act->configuration) !=
                  std::tuple(step.act.reading, step.act.place, step.act.configuration));
        }
        CHECK(step.begins_minutes == Approx(minutes));
        CHECK(step.begins_minutes < 60.0);
        if (step.act.repair) {
            CHECK(step.forks.empty());
            return;
        }
        REQUIRE_FALSE(step.forks.empty());
        const double all = std::accumulate(step.forks.begin(), step.forks.end(), 0.0,
                                           [](double sum, const HourFork& f) { return sum + f.probability; });
        CHECK(all <= 1.0 + 1e-9);
        CHECK(all >= 0.97);
        for (const HourFork& fork : step.forks) {
            CHECK((fork.end == HourEnd::goes_on) == !fork.then.empty());
            CHECK((fork.shows.empty() || fork.leading_probability > 0.0));
        }
    });
    CHECK(steps > 2);
    CHECK(steps <= 6);
}

TEST_CASE("an hour of a few minutes has one act, and one that is stopped says nothing", "[hour]") {
    const Asked asked = after({}, plugged("p1"));
    HourOptions minutes;
    minutes.minutes = 0.1;
    const auto plan = hour_after(asked, minutes);
    REQUIRE(plan);
    REQUIRE(plan->first.size() == 1);
    for (const HourFork& fork : plan->first.front().forks) {
        CHECK(fork.then.empty());
        CHECK((fork.shows.empty() || fork.end == HourEnd::hour_over));
    }
    CHECK_FALSE(hour_after(asked, {}, [] { return true; }));
}

TEST_CASE("nothing dangerous is planned for any part of the hour", "[hour][danger]") {
    // Common practice: nothing is plugged into a burnt jack.
    Reading burnt;
    burnt.id = "look";
    burnt.configuration = for_ohms();
    burnt.value = LookReading{"jack", Look::burnt};
    const Asked asked = after({burnt}, plugged("p1"));
    const auto plan = hour_after(asked, short_plan());
    REQUIRE(plan);
    CHECK_FALSE(plan->dangers.empty());
    over_steps(plan->first, {}, [&](const HourStep& step, const std::vector<const NextAct*>&) {
        CAPTURE(describe(step.act, shared_table(barrel).plan()));
        CHECK((step.act.repair || !step.act.configuration.charger_connected || is_by_eye(step.act.reading) ||
               step.act.reading == ReadingKind::through || step.act.reading == ReadingKind::net_ohms));
    });
}
