// SPDX-License-Identifier: GPL-3.0-or-later
// Battery arithmetic: closed forms, cell voltages, what proves charging, and the kernel's units.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/files.h"
#include "core/base/random.h"
#include "core/base/text.h"
#include "core/battery/battery_log.h"
#include "core/battery/charge_course.h"
#include "core/battery/charging_proof.h"
#include "core/battery/uevent.h"
#include "tests/support/shop.h"

using namespace eh;

namespace {

Pack shipped_pack(const std::string& cells, int in_series, double wh = 50.0) {
    Pack pack;
    for (const Chemistry& chemistry : test::shipped_knowledge().chemistries)
        if (chemistry.id == cells)
            pack.cells = chemistry;
    REQUIRE(pack.cells.id == cells);
    pack.in_series = in_series;
    pack.capacity_wh = wh;
    return pack;
}

// A pack whose rest volts rise in a straight line, for closed forms.
Pack straight_pack() {
    Pack pack;
    pack.cells = {"straight", "Straight", 3.7, 4.2, 3.2, {}};
    pack.in_series = 3;
    pack.capacity_wh = 3 * 3.7 * 4.0;  // 4 Ah
    pack.ohms_a_cell = 0.08;
    return pack;
}

std::vector<BatteryVolts> ramp(double from, double volts_a_second, double seconds, double every, double digit,
                               Random& random, std::optional<double> watts = std::nullopt) {
    std::vector<BatteryVolts> readings;
    for (double t = 0.0; t <= seconds; t += every) {
        const double exact = from + volts_a_second * t + 0.3 * digit * random.normal();
        readings.push_back({t, std::round(exact / digit) * digit, true, watts});
    }
    return readings;
}

}  // namespace

TEST_CASE("packs are full and nominal at the volts that are printed on them", "[battery]") {
    // Common practice: 2 x 3.80 V is 7.6 V nominal and 8.70 V full, 2 x 3.85 V 7.7 and 8.80 V, 3.7 V
    // cells 4.20 V.
    CHECK(shipped_pack("li_hv_380", 2).nominal_volts() == Approx(7.6));
    CHECK(shipped_pack("li_hv_380", 2).full_volts() == Approx(8.7));
    CHECK(shipped_pack("li_hv", 2).nominal_volts() == Approx(7.7));
    CHECK(shipped_pack("li_hv", 2).full_volts() == Approx(8.8));
    CHECK(shipped_pack("li_ion", 3).full_volts() == Approx(12.6));
    // At 7.98 V a 7.6 V pack is far from full.
    const double state = charge_state(shipped_pack("li_hv_380", 2), 7.98);
    CHECK(state > 0.4);
    CHECK(state < 0.8);
}

TEST_CASE("rest volts and charge state are each other's inverse", "[battery]") {
    for (const Chemistry& cells : test::shipped_knowledge().chemistries) {
        const Pack pack = shipped_pack(cells.id, 3);
        CAPTURE(cells.id);
        CHECK(rest_volts(pack, 1.0) == Approx(pack.full_volts()));
        for (double state = 0.0; state <= 1.0; state += 0.07)
            CHECK(charge_state(pack, rest_volts(pack, state)) == Approx(state).margin(1e-9));
        CHECK(charge_state(pack, 99.0) == 1.0);
        CHECK(charge_state(pack, 0.0) == 0.0);
    }
}

TEST_CASE("constant current and constant volts follow their closed forms", "[battery]") {
    // With rest volts in a straight line: constant current I takes Q ds / I; at constant volts the current
    // falls exponentially, dI/dt = -(k / R) I with k volts a coulomb, so from I to the end it takes (R / k)
    // ln(I / Iend).
    ChargeSetup setup;
    setup.pack = straight_pack();
    setup.charge_state = 0.1;
    setup.most_amps = 2.0;
    setup.watts = 500.0;
    setup.end_share = 0.05;
    const auto course = charge_course(setup);
    REQUIRE(course.ok());
    const double coulombs = setup.pack.capacity_ah() * 3600.0;
    const double k = (setup.pack.full_volts() - 3 * 3.2) / coulombs;
    const double ohms = setup.pack.ohms();
    const double meets =
        (setup.pack.full_volts() - 2.0 * ohms - 3 * 3.2) / (setup.pack.full_volts() - 3 * 3.2);
    const double constant_current = (meets - 0.1) * coulombs / 2.0;
    const double constant_volts = ohms / k * std::log(2.0 / (0.05 * setup.pack.capacity_ah()));
    CHECK(course->total_s == Approx(constant_current + constant_volts).epsilon(0.002));
    CHECK(course->constant_volts_s == Approx(constant_volts).epsilon(0.01));
    // Charge is conserved: the integral of the current is what went in.
    double in = 0.0;
    for (std::size_t i = 1; i < course->points.size(); ++i)
        in += 0.5 * (course->points[i].amps + course->points[i - 1].amps) *
              (course->points[i].t_s - course->points[i - 1].t_s);
    CHECK(in == Approx((course->points.back().charge_state - 0.1) * coulombs).epsilon(0.002));
    for (const ChargePoint& point : course->points)
        CHECK(point.volts <= setup.pack.full_volts() + 1e-9);
}

TEST_CASE("a usual pack charges in about an hour and a half, and the band holds the estimate", "[battery]") {
    // Common practice: about an hour and a half for some 50 Wh from a 45 W charger.
    ChargeSetup setup;
    setup.pack = shipped_pack("li_ion", 3);
    setup.charge_state = 0.02;
    setup.watts = 44.0;
    setup.most_amps = setup.pack.capacity_ah();
    const auto time = time_to_full(setup);
    REQUIRE(time.ok());
    CHECK(time->expected_s / 3600.0 == Approx(1.5).margin(0.35));
    CHECK(time->least_s < time->expected_s);
    CHECK(time->most_s > time->expected_s);
    // A limit ends sooner; fewer watts take longer.
    ChargeSetup limited = setup;
    limited.stop_at = 0.8;
    CHECK(charge_course(limited)->total_s < time->expected_s);
    ChargeSetup weak = setup;
    weak.watts = 15.0;
    CHECK(charge_course(weak)->total_s > 1.8 * time->expected_s);
    // A real course is compared by charge state.
    const auto course = charge_course(setup);
    const ChargePoint& middle = course->points[course->points.size() / 2];
    CHECK(*behind_s(*course, middle.t_s + 120.0, middle.charge_state) == Approx(120.0).margin(1.0));
    CHECK_FALSE(behind_s(*course, 10.0, 0.001));
    setup.charge_state = 1.4;
    CHECK_FALSE(charge_course(setup).ok());
    setup.charge_state = 0.4;
    setup.watts = 0.0;
    CHECK_FALSE(charge_course(setup).ok());
}

TEST_CASE("rising volts alone prove nothing, watts or the step on unplugging do", "[battery]") {
    Random random(8);
    ChargingFacts facts;
    facts.pack = shipped_pack("li_hv_380", 2, 45.0);
    facts.machine_watts = 12.0;
    // Common practice: 7.93, 7.94, 7.95 V over a minute.
    const auto rising = ramp(7.93, 0.02 / 60.0, 120.0, 10.0, 0.01, random);
    CHECK(judge_charging(facts, rising).state == ChargingState::rising_only);
    const auto with_watts = ramp(7.93, 0.02 / 60.0, 120.0, 10.0, 0.01, random, 42.0);
    const auto charging = judge_charging(facts, with_watts);
    CHECK(charging.state == ChargingState::charging);
    CHECK(*charging.pack_watts == Approx(30.0));
    CHECK(charging.charge_state > 0.4);
    CHECK(charging.charge_state < 0.75);
    // The step proves it with the machine off; with it on the load takes the volts down too.
    auto unplugged = rising;
    unplugged.push_back({128.0, unplugged.back().volts - 0.12, false, std::nullopt});
    CHECK(judge_charging(facts, unplugged).state == ChargingState::rising_only);
    facts.machine_off = true;
    CHECK(judge_charging(facts, unplugged).state == ChargingState::charging);
    // The step and the watts give the pack's ohms: 0.12 V when 30 W at 7.97 V stop flowing.
    auto with_step = with_watts;
    with_step.push_back({128.0, with_step.back().volts - 0.12, false, std::nullopt});
    CHECK(judge_charging(facts, with_step).pack_ohms ==
          Approx((with_step[with_step.size() - 2].volts - with_step.back().volts) /
                 (30.0 / with_step.back().volts)));
    // A step within the meter's digits is none.
    unplugged.back().volts = rising.back().volts - 0.01;
    CHECK(judge_charging(facts, unplugged).state == ChargingState::rising_only);
}

TEST_CASE("full, limited, not charging and too early are told apart", "[battery]") {
    Random random(9);
    ChargingFacts facts;
    facts.pack = shipped_pack("li_ion", 3, 50.0);
    facts.machine_watts = 10.0;
    const auto at = [&](double volts, double seconds, double watts) {
        return judge_charging(facts, ramp(volts, 0.0, seconds, 10.0, 0.01, random, watts));
    };
    CHECK(at(12.58, 600.0, 10.5).state == ChargingState::full);
    CHECK(at(11.6, 900.0, 10.2).state == ChargingState::not_charging);
    facts.limit = charge_state(facts.pack, 12.0);
    CHECK(at(12.0, 900.0, 10.2).state == ChargingState::limited);
    const auto early = at(11.6, 20.0, 10.2);
    CHECK(early.state == ChargingState::too_early);
    CHECK(early.wait_s > 0.0);
    CHECK(early.says.find("go on for") != std::string::npos);
    CHECK(judge_charging(facts, {}).state == ChargingState::too_early);
    CHECK(judge_charging(facts, {{0.0, 11.0, true, std::nullopt}}).state == ChargingState::too_early);
}

TEST_CASE("a rise is told about when it is said that it can be", "[battery]") {
    // After the waiting time a rise as expected is found in most of the series, and none is found where none
    // is.
    constexpr double slope = 0.0002;
    const double wait = seconds_to_tell(slope, 0.005, 10.0);
    Random random(10);
    int found = 0;
    int false_alarms = 0;
    constexpr int rounds = 400;
    ChargingFacts facts;
    facts.pack = shipped_pack("li_ion", 3, 50.0);
    for (int i = 0; i < rounds; ++i) {
        const double from = 11.2 + 0.01 * random.uniform();
        found += judge_charging(facts, ramp(from, slope, 1.5 * wait, 10.0, 0.01, random)).slope_low > 0.0;
        false_alarms +=
            judge_charging(facts, ramp(from, 0.0, 1.5 * wait, 10.0, 0.01, random)).slope_low > 0.0;
    }
    CHECK(found > 0.9 * rounds);
    CHECK(false_alarms < 0.05 * rounds);
}

TEST_CASE("a battery's report is read in the kernel's units", "[battery][uevent]") {
    // Documentation of the kernel's power_supply class: microvolts, micro-watt-hours, tenths of a degree.
    const char* text =
        "POWER_SUPPLY_NAME=BAT0\nPOWER_SUPPLY_TYPE=Battery\nPOWER_SUPPLY_STATUS=Charging\n"
        "POWER_SUPPLY_TECHNOLOGY=Li-ion\nPOWER_SUPPLY_CYCLE_COUNT=412\nPOWER_SUPPLY_VOLTAGE_MIN_DESIGN="
        "11400000\n"
        "POWER_SUPPLY_VOLTAGE_NOW=12013000\nPOWER_SUPPLY_POWER_NOW=23450000\nPOWER_SUPPLY_ENERGY_FULL_DESIGN="
        "50000000\n"
        "POWER_SUPPLY_ENERGY_FULL=37500000\nPOWER_SUPPLY_ENERGY_NOW=20000000\nPOWER_SUPPLY_CAPACITY=53\n"
        "POWER_SUPPLY_TEMP=312\nPOWER_SUPPLY_CHARGE_CONTROL_END_THRESHOLD=80\n";
    const auto report = parse_uevent(text);
    REQUIRE(report.ok());
    CHECK(report->status == SupplyStatus::charging);
    CHECK(*report->volts == Approx(12.013));
    CHECK(*report->watts == Approx(23.45));
    CHECK(*report->full_wh == Approx(37.5));
    CHECK(*report->health == Approx(0.75));
    CHECK(*report->cycles == 412);
    CHECK(*report->celsius == Approx(31.2));
    CHECK(*report->limit_percent == 80.0);
    CHECK(report->remarks.empty());
    CHECK(findings(*report).size() == 3);
    // Machines that count amp-hours: 3.29 Ah at 11.4 V design.
    const auto amp_hours = parse_uevent(
        "POWER_SUPPLY_STATUS=Discharging\r\nPOWER_SUPPLY_VOLTAGE_MIN_DESIGN=11400000\r\nPOWER_SUPPLY_CHARGE_"
        "FULL=3290000\r\n"
        "POWER_SUPPLY_CHARGE_FULL_DESIGN=4386000\r\nPOWER_SUPPLY_CURRENT_NOW=-1200000\r\nPOWER_SUPPLY_"
        "VOLTAGE_NOW=11000000\r\n");
    REQUIRE(amp_hours.ok());
    CHECK(*amp_hours->full_wh == Approx(3.29 * 11.4));
    CHECK(*amp_hours->watts == Approx(13.2));
    CHECK(*amp_hours->health == Approx(3290.0 / 4386.0));
    // What cannot be is left out and said.
    const auto odd = parse_uevent(
        "POWER_SUPPLY_VOLTAGE_NOW=12013\nPOWER_SUPPLY_CAPACITY=530\nPOWER_SUPPLY_ENERGY_NOW=lots\n"
        "POWER_SUPPLY_ENERGY_FULL=40000000\n");
    REQUIRE(odd.ok());
    CHECK(odd->remarks.size() == 2);
    CHECK_FALSE(odd->percent);
    for (const char* nothing : {"", "hello", "POWER_SUPPLY_NAME=BAT0\n"})
        CHECK_FALSE(parse_uevent(nothing).ok());
}

TEST_CASE("a machine's report tells the pack: cells by its design volts, capacity, charge limit",
          "[battery]") {
    const auto& chemistries = eh::test::shipped_knowledge().chemistries;
    const auto log_of = [&](const std::string& text) {
        BatteryLog log;
        log.in_series = 4;
        log.capacity_wh = 77.0;
        const auto report = parse_uevent(text);
        REQUIRE(report.ok());
        take_report(log, text, *report, chemistries);
        return log;
    };
    // 7.6 V are two cells of 3.8 V, 11.1 V three of 3.7 V (trade-notes section 10; common practice).
    const BatteryLog two = log_of(
        "POWER_SUPPLY_VOLTAGE_MIN_DESIGN=7600000\nPOWER_SUPPLY_ENERGY_FULL=46000000\n"
        "POWER_SUPPLY_CHARGE_CONTROL_END_THRESHOLD=80\n");
    CHECK(two.in_series == 2);
    CHECK(two.capacity_wh == Approx(46.0));
    CHECK(*two.limit == Approx(0.8));
    CHECK(log_of("POWER_SUPPLY_CAPACITY=50\nPOWER_SUPPLY_VOLTAGE_MIN_DESIGN=11100000\n").in_series == 3);
    // What the report does not tell stays as it was; a limit of 100 % is none.
    const BatteryLog silent =
        log_of("POWER_SUPPLY_CAPACITY=61\nPOWER_SUPPLY_CHARGE_CONTROL_END_THRESHOLD=100\n");
    CHECK(silent.in_series == 4);
    CHECK(silent.capacity_wh == 77.0);
    CHECK_FALSE(silent.limit);
    // Every chemistry that is shipped is found again by its own nominal volts, or one that divides as well.
    for (const Chemistry& cells : chemistries) {
        for (int count = 2; count <= 4; ++count) {
            const int microvolts = static_cast<int>(std::lround(1e6 * count * cells.nominal_volts));
            const BatteryLog found = log_of("POWER_SUPPLY_CAPACITY=50\nPOWER_SUPPLY_VOLTAGE_MIN_DESIGN=" +
                                            std::to_string(microvolts) + "\n");
            CAPTURE(cells.id, count);
            const auto chosen = std::find_if(chemistries.begin(), chemistries.end(),
                                             [&](const Chemistry& c) { return c.id == found.cells; });
            REQUIRE(chosen != chemistries.end());
            CHECK(found.in_series * chosen->nominal_volts ==
                  Approx(count * cells.nominal_volts).margin(0.15 * chosen->nominal_volts));
        }
    }
}

TEST_CASE("a battery's report with bytes that are no UTF-8 is read, and that is remarked",
          "[battery][hostile]") {
    for (const char* file : {"battery-latin1.uevent", "battery-cut-utf8.uevent"}) {
        CAPTURE(file);
        const auto text = read_text_file(std::string(EH_SOURCE_DIR "/tests/data/hostile/") + file);
        REQUIRE(text.ok());
        const auto report = parse_uevent(*text);
        for (const std::string& remark : report.ok() ? report->remarks : std::vector{report.error().text()})
            CHECK(is_utf8(remark));
        if (report)
            CHECK(is_utf8(report->name + report->technology));
    }
}
