// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/survey.h"

#include <algorithm>
#include <set>

#include "core/planning/next_act.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr const char* surveyed = "usbc-dual";

NextStep step_of_dual(const std::vector<Reading>& readings, const BenchConfiguration& now,
                      const NextOptions& options = {}) {
    PredictionTable& table = shared_table(surveyed);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    prepare_candidates(table, ranking, readings, now);
    return next_acts(table, ranking, readings, now, shipped_costs(), options);
}

}  // namespace

TEST_CASE("the survey goes once through every port and both sides, and costs what its readings cost",
          "[next][survey]") {
    const BenchConfiguration now = plugged("p1");
    const MachinePlan& plan = shared_table(surveyed).plan();
    const NextStep fresh = step_of_dual({}, now);
    REQUIRE(fresh.survey);
    CHECK(fresh.survey->ways.size() == 4);
    std::set<std::pair<std::string, PlugSide>> places;
    double minutes = 0.0;
    BenchConfiguration standing = now;
    for (const BenchConfiguration& way : fresh.survey->ways) {
        places.emplace(way.port, way.side);
        CHECK(way.charger == now.charger);
        CHECK(way.battery_in == now.battery_in);
        minutes += setup_minutes(standing, way, plan, shipped_costs()) + shipped_costs().reading_minutes[0];
        standing = way;
    }
    CHECK(places.size() == 4);
    CHECK(fresh.survey->minutes == Approx(minutes));
    // Whoever stands in a port begins there, and no order that one could think of moves less.
    CHECK(fresh.survey->ways.front() == now);
    std::vector<BenchConfiguration> other = fresh.survey->ways;
    std::sort(other.begin(), other.end(), [](const auto& a, const auto& b) { return a.port > b.port; });
    CHECK(survey_minutes(other, now, plan, shipped_costs()) >= fresh.survey->minutes - 1e-9);
}

TEST_CASE("what was read is no longer part of the survey, and one reading is none", "[next][survey]") {
    std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 5.1, 0.05)};
    const NextStep begun = step_of_dual(readings, plugged("p1"));
    REQUIRE(begun.survey);
    CHECK(begun.survey->ways.size() == 3);
    const auto& ways = begun.survey->ways;
    CHECK(std::find(ways.begin(), ways.end(), plugged("p1")) == ways.end());
    for (std::size_t i = 0; i < 2; ++i)
        readings.push_back(meter_reading(i == 0 ? "b" : "c", ways[i], MeterPattern::steady, 5.1, 0.05));
    CHECK_FALSE(step_of_dual(readings, ways[1]).survey);
    // Nobody closes a case, or feeds a likely short, for a survey.
    BenchConfiguration open = plugged("p1");
    open.case_open = true;
    CHECK_FALSE(step_of_dual({readings.front()}, open).survey);
    const std::vector<Reading> tripping{meter_reading("a", plugged("p1"), MeterPattern::cycling, 12.0, 1.5),
                                        meter_reading("b", plugged("p2"), MeterPattern::cycling, 12.0, 1.5)};
    CHECK_FALSE(step_of_dual(tripping, plugged("p2")).survey);
}

TEST_CASE("no danger lies on the way of a survey", "[next][survey][danger]") {
    // A burnt receptacle keeps power from its port (common practice).
    Reading burnt;
    burnt.id = "look";
    burnt.configuration = plugged("p1");
    burnt.value = LookReading{"rec1", Look::burnt};
    const NextStep step = step_of_dual({burnt}, plugged("p2"));
    if (step.survey) {
        for (const BenchConfiguration& way : step.survey->ways)
            CHECK(way.port != "p1");
    }
    const MachinePlan& plan = shared_table(surveyed).plan();
    const auto dangers = dangers_found(plan, {burnt}, plugged("p2"));
    REQUIRE_FALSE(dangers.empty());
    const Ranking ranking =
        rank(shared_table(surveyed), priors_of(shared_table(surveyed).hypotheses()), {burnt});
    const std::vector<Reading> taken{burnt};
    const auto ways =
        ways_unread(plan, plugged("p2"), TakenReadings(taken, ranking, false), dangers, shipped_costs());
    CHECK(ways.size() == 2);
}

TEST_CASE("beside a repair by a new part the job can be laid by, until it was", "[next][order]") {
    BenchConfiguration without = for_ohms();
    without.board_out = true;
    without.removed = {"sp1"};
    const std::vector<Reading> readings{ohms_reading("a", for_ohms(), "vdc", 3.0),
                                        open_reading("b", without, "vdc"),
                                        meter_reading("c", plugged("p1"), MeterPattern::dark)};
    PredictionTable& table = shared_table(barrel);
    const auto step = [&](const std::vector<Reading>& taken, const NextOptions& options) {
        const Ranking ranking = rank(table, priors_of(table.hypotheses()), taken);
        prepare_candidates(table, ranking, taken, plugged("p1"));
        return next_acts(table, ranking, taken, plugged("p1"), shipped_costs(), options);
    };
    const NextStep due = step(readings, {});
    REQUIRE(due.repair_due);
    REQUIRE(due.acts.front().remedy == Work::replace);
    REQUIRE(due.parking);
    CHECK(due.parking->block == due.acts.front().fault.block);
    CHECK(due.parking->minutes == shipped_costs().order_minutes);
    CHECK_FALSE(due.survey);
    NextOptions ordered;
    ordered.part_ordered = true;
    CHECK_FALSE(step(readings, ordered).parking);
    CHECK_FALSE(step({}, {}).parking);
}
