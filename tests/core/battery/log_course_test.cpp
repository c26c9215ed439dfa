// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/battery/log_course.h"

#include <catch2/catch.hpp>

#include "core/base/files.h"
#include "core/machine/knowledge/load_knowledge.h"

using namespace eh;

namespace {

const std::vector<Chemistry>& chemistries() {
    static const Knowledge knowledge = load_knowledge(default_data_directory()).value();
    return knowledge.chemistries;
}

BatteryLog log_with(std::vector<BatteryVolts> readings) {
    BatteryLog log;
    log.readings = std::move(readings);
    return log;
}

BatteryVolts at(double t_s, double volts, bool charger_in = true) {
    BatteryVolts reading;
    reading.t_s = t_s;
    reading.volts = volts;
    reading.charger_in = charger_in;
    return reading;
}

Result<LogCourse> course_of(const BatteryLog& log) {
    return log_course(log, judge_charging(facts_of(log, chemistries()), log.readings), chemistries());
}

}  // namespace

TEST_CASE("the course goes from the first reading to the limit", "[battery][course]") {
    BatteryLog log = log_with({at(0.0, 11.4, false)});
    const auto full = course_of(log);
    REQUIRE(full.ok());
    REQUIRE(full->states.size() == 1);
    CHECK(full->course.points.front().charge_state == Approx(full->states.front()));
    CHECK(full->course.points.back().charge_state == Approx(1.0).margin(0.02));
    // Charge conservation: the watts put in, less what the ohms take, fill what was missing.
    const double missing_wh = (1.0 - full->states.front()) * log.capacity_wh;
    CHECK(full->course.total_s >= 0.9 * 3600.0 * missing_wh / full->setup.watts);
    log.limit = 0.8;
    const auto limited = course_of(log);
    REQUIRE(limited.ok());
    CHECK(limited->course.points.back().charge_state == Approx(0.8).margin(0.02));
    CHECK(limited->time.expected_s < full->time.expected_s);
}

TEST_CASE("a pack that fills as reckoned is on time, one whose volts stand still falls behind",
          "[battery][course]") {
    const auto reckoned = course_of(log_with({at(0.0, 11.4)}));
    REQUIRE(reckoned.ok());
    const ChargePoint& later = reckoned->course.points[reckoned->course.points.size() / 4];
    // Without watts known for the pack, volts are taken as those at rest.
    const Pack& pack = reckoned->setup.pack;
    double rest_volts = later.volts - later.amps * pack.ohms_a_cell * pack.in_series;
    const auto on_time = course_of(log_with({at(0.0, 11.4), at(later.t_s, rest_volts)}));
    REQUIRE(on_time.ok());
    REQUIRE(on_time->behind_s);
    CHECK(std::abs(*on_time->behind_s) < 0.1 * later.t_s + 60.0);
    const auto stands = course_of(log_with({at(0.0, 11.4), at(later.t_s, 11.4)}));
    REQUIRE(stands.ok());
    CHECK(stands->behind_s.value() > 0.8 * later.t_s);
    // What was read without the charger says nothing of the course.
    const auto out = course_of(log_with({at(0.0, 11.4, false), at(600.0, 11.4, false)}));
    REQUIRE(out.ok());
    CHECK_FALSE(out->behind_s);
}

TEST_CASE("no course where nothing goes in", "[battery][course]") {
    ChargingVerdict verdict;
    verdict.pack_watts = 0.0;
    CHECK_FALSE(log_course(log_with({at(0.0, 11.4)}), verdict, chemistries()).ok());
}

TEST_CASE("volts of a pack are kept in the order of time, within what a pack has", "[battery][course]") {
    BatteryLog log;
    CHECK(add_volts(log, at(100.0, 11.4)).ok());
    // A clock that was set back must not make the series run backwards.
    CHECK(add_volts(log, at(40.0, 11.5)).ok());
    CHECK(log.readings[1].t_s > log.readings[0].t_s);
    CHECK_FALSE(add_volts(log, at(200.0, 0.0)).ok());
    CHECK_FALSE(add_volts(log, at(200.0, 75.0)).ok());
    CHECK(log.readings.size() == 2);
}
