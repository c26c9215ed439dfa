// SPDX-License-Identifier: GPL-3.0-or-later
// What comes first by the order of the trade, whatever tells a little more (common practice for all): a board
// that got wet is looked over before power goes on; all power is cut before a case is opened for longer; an
// inlet that lets go of a good plug is looked into and put right.
#include <algorithm>

#include "core/planning/next_act.h"
#include "core/planning/taken_readings.h"
#include "core/planning/tried_work.h"
#include "core/planning/why_first.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

struct AtTheBench {
    PredictionTable& table;
    std::vector<Reading> readings;
    BenchConfiguration now = plugged("p1");
    NextOptions options;

    explicit AtTheBench(const std::string& machine) : table(shared_table(machine)) { options.most = 40; }
    [[nodiscard]] Ranking ranking() const { return rank(table, priors_of(table.hypotheses()), readings); }
    [[nodiscard]] NextStep step() const {
        const Ranking ranked = ranking();
        prepare_candidates(table, ranked, readings, now);
        return next_acts(table, ranked, readings, now, shipped_costs(), options);
    }
};

Reading moved(const std::string& id, const BenchConfiguration& bench, bool drops_out) {
    Reading reading;
    reading.id = id;
    reading.configuration = bench;
    reading.value = WiggleReading{drops_out};
    return reading;
}

}  // namespace

TEST_CASE("a board that got wet is looked over before power goes on, and not once it has stood that",
          "[next][order]") {
    AtTheBench bench(chained);
    CHECK(bench.step().acts.front().reading != ReadingKind::board_look);
    bench.options.facts = {"liquid"};
    const NextStep wet = bench.step();
    CHECK(wet.acts.front().reading == ReadingKind::board_look);
    CHECK_THAT(why_first(wet, bench.table.plan()), Catch::Contains("before power"));
    bench.options.facts = {"fell"};
    CHECK_FALSE(bench.step().acts.front().before_power);
    bench.options.facts = {"liquid"};
    bench.readings = {meter_reading("a", plugged("p1"), MeterPattern::steady, 5.0, 0.1)};
    const NextStep fed = bench.step();
    CHECK(
        std::none_of(fed.acts.begin(), fed.acts.end(), [](const NextAct& act) { return act.before_power; }));
}

TEST_CASE("all power is cut before the case is opened, where something may hang", "[next][order]") {
    AtTheBench bench(chained);
    BenchConfiguration pressed = plugged("p1");
    pressed.button = Button::pressed;
    bench.readings = {meter_reading("a", plugged("p1"), MeterPattern::steady, 20.0, 0.01),
                      meter_reading("b", plugged("p2"), MeterPattern::steady, 20.0, 0.01),
                      meter_reading("c", pressed, MeterPattern::steady, 20.0, 0.01)};
    REQUIRE(hang_probability(bench.table, bench.ranking(), bench.now) > 0.05);
    const NextStep closed = bench.step();
    const NextAct& first = closed.acts.front();
    CHECK_FALSE(first.configuration.case_open);
    CHECK(first.before_opening);
    CHECK(first.cut_power_first);
    // With the case open that order has no reason.
    bench.now.case_open = true;
    const NextStep opened = bench.step();
    CHECK(std::none_of(opened.acts.begin(), opened.acts.end(),
                       [](const NextAct& act) { return act.before_opening; }));
}

TEST_CASE(
    "an inlet that lets go of the shop's own plug was seen to be at fault, unlike one that drops the "
    "customer's",
    "[next][order]") {
    const MachinePlan& plan = shared_table(barrel).plan();
    BenchConfiguration own = plugged("p1");
    own.charger = own.lead = Owner::customer;
    const auto lets_go = [&](const std::vector<Reading>& readings, const std::string& block) {
        const Ranking unused;
        return TakenReadings(readings, unused, false).show_letting_go(block, plan);
    };
    CHECK(lets_go({moved("a", plugged("p1"), true)}, "jack"));
    CHECK_FALSE(lets_go({moved("a", plugged("p1"), false)}, "jack"));
    CHECK_FALSE(lets_go({moved("a", own, true)}, "jack"));
    CHECK_FALSE(lets_go({moved("a", plugged("p1"), true)}, "har"));
    Reading aside = moved("a", plugged("p1"), true);
    aside.set_aside = true;
    CHECK_FALSE(lets_go({aside}, "jack"));

    AtTheBench bench(barrel);
    bench.readings = {meter_reading("m", plugged("p1"), MeterPattern::steady, 19.4, 1.9),
                      moved("a", own, true), moved("b", plugged("p1"), true)};
    const NextStep step = bench.step();
    const NextAct& first = step.acts.front();
    const bool looks = !first.repair && first.reading == ReadingKind::look && first.place == "jack";
    const bool repairs = first.repair && first.fault.block == "jack";
    CHECK((looks || repairs));
    if (repairs)
        CHECK_THAT(why_first(step, plan), Catch::Contains("let go") || Catch::Contains("certain"));
}
