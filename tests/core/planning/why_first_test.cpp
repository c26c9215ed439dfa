// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/why_first.h"

#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

const MachinePlan& plan() {
    return shared_table(barrel).plan();
}

NextAct reading(ReadingKind kind, double bits, double minutes) {
    NextAct act;
    act.reading = kind;
    act.place = kind == ReadingKind::look ? "jack" : "";
    act.configuration = plugged("p1");
    act.bits = bits;
    act.minutes = minutes;
    return act;
}

}  // namespace

TEST_CASE("what stands first says what it tells apart, and what would tell more", "[next][why]") {
    NextStep step;
    CHECK(why_first(step, plan()).empty());
    step.acts = {reading(ReadingKind::meter, 0.4, 1.0), reading(ReadingKind::look, 0.9, 9.0)};
    step.acts.front().told_apart =
        ToldApart{{"jack", HypothesisKind::fault}, {"", HypothesisKind::nothing_wrong}};
    const std::string why = why_first(step, plan());
    CHECK_THAT(why, Catch::StartsWith("It tells " + part_title(plan(), "jack") + " from nothing wrong."));
    CHECK_THAT(why, Catch::Contains("would tell more, and takes 8 min more."));
    // An act that tells no more is not the obvious other one.
    step.acts.back().bits = 0.3;
    CHECK_THAT(why_first(step, plan()), !Catch::Contains("would tell more"));
}

TEST_CASE("a repair, a test and a second try say what they are", "[next][why]") {
    NextStep step;
    step.acts = {reading(ReadingKind::meter, 0.4, 1.0)};
    step.acts.front().on_trial = true;
    CHECK_THAT(why_first(step, plan()), Catch::Contains("before the repair"));
    step.acts.front().again = true;
    CHECK_THAT(why_first(step, plan()), Catch::Contains("fitted nothing"));
    step.acts.front().repair = true;
    CHECK_THAT(why_first(step, plan()), Catch::Contains("would change the choice"));
}

TEST_CASE("two suspects that one reading parts are named by it", "[next][why]") {
    PredictionTable& table = shared_table(barrel);
    const std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::dark)};
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    prepare_candidates(table, ranking, readings, plugged("p1"));
    NextOptions options;
    options.most = 40;
    const NextStep step = next_acts(table, ranking, readings, plugged("p1"), shipped_costs(), options);
    REQUIRE_FALSE(step.acts.empty());
    for (const NextAct& act : step.acts) {
        // What tells much tells two of the likeliest apart.
        if (act.bits > 0.3)
            CHECK(act.told_apart);
    }
    CHECK_FALSE(why_first(step, table.plan()).empty());
}
