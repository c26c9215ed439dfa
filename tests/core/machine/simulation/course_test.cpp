// SPDX-License-Identifier: GPL-3.0-or-later
// What happens after the plug goes in, and when.
#include "core/machine/simulation/course.h"
#include "core/machine/simulation/known_ohms.h"

#include <cmath>

#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Course course_of(const Knowledge& knowledge, const std::vector<FaultInstance>& faults,
                 const BenchConfiguration& configuration, const std::string& topology_id = chained) {
    const FittedPlan plan(knowledge, *knowledge.find_topology(topology_id));
    MachineModel model(plan, faults, {});
    DcSolver solver;
    Course course = run_course(model, configuration, solver);
    REQUIRE_FALSE(course.solver_failed);
    REQUIRE_FALSE(course.phases.empty());
    return course;
}

Course course_of(const std::vector<FaultInstance>& faults, const BenchConfiguration& configuration,
                 const std::string& topology_id = chained) {
    return course_of(shipped_knowledge(), faults, configuration, topology_id);
}

Knowledge with_protection(Protection protection) {
    Knowledge knowledge = shipped_knowledge();
    for (ChargerSpec& charger : knowledge.kit.chargers)
        charger.protection = protection;
    return knowledge;
}

// First moment at which the contract stands at so many volts, or -1.
double reached_s(const Course& course, double contract_volts) {
    for (const Phase& phase : course.phases) {
        if (std::abs(phase.contract_volts - contract_volts) < 0.1)
            return phase.start_s;
    }
    return -1.0;
}

}  // namespace

TEST_CASE("phases follow each other without gaps", "[course]") {
    for (const std::vector<FaultInstance>& faults : std::vector<std::vector<FaultInstance>>{
             {}, {{"memory_unreadable", "mem"}}, {{"protector_shorted", "sp1", 3.3, 3.0}}}) {
        const Course course = course_of(faults, plugged("p1"));
        for (std::size_t i = 0; i + 1 < course.phases.size(); ++i) {
            CHECK(course.phases[i].duration_s > 0.0);
            CHECK(course.phases[i + 1].start_s ==
                  Approx(course.phases[i].start_s + course.phases[i].duration_s));
        }
        CHECK(course.settled != course.cycling);
    }
}

TEST_CASE("5 V comes after the attach debounce, 20 V after the controllers have spoken", "[course]") {
    // USB Type-C (from memory): CC debounce 100-200 ms. Kernel header pd.h: a sink waits 310-620 ms for
    // capabilities.
    const Course course = course_of({}, plugged("p1"));
    const double five = reached_s(course, 5.0);
    const double twenty = reached_s(course, 20.0);
    CHECK(five >= 0.1);
    CHECK(five <= 0.2);
    CHECK(twenty > five + 0.31);
    CHECK(twenty < five + 2.5);
}

TEST_CASE("after the contract the current climbs: booting, running, charging", "[course]") {
    // Common practice: 20 V, 0.02, then 0.3, then 0.5-0.8 A booting, 1-3 A charging.
    BenchConfiguration empty = plugged("p1");
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    MachineModel model(plan, {{"battery_connector", "bat"}}, {});
    DcSolver solver;
    const Course course = run_course(model, empty, solver);
    double last = 0.0;
    int climbs = 0;
    for (const Phase& phase : course.phases) {
        if (phase.contract_volts > 18.0 && phase.meter_amps > last + 0.05) {
            ++climbs;
            last = phase.meter_amps;
        }
    }
    CHECK(climbs >= 2);
    CHECK(last > 0.3);
    CHECK(last < 1.0);
    const Course charging = course_of({}, empty);
    CHECK(charging.charging);
    CHECK(charging.phases.back().meter_amps > 1.0);
}

TEST_CASE("a source that retries makes a cycle with the rhythm of its recovery", "[course]") {
    const Knowledge knowledge = with_protection(Protection::hiccup);
    const Course course = course_of(knowledge, {{"capacitor_shorted", "cv1", 0.5}}, plugged("p1"));
    REQUIRE(course.cycling);
    const double recover_s = knowledge.kit.find_charger("usbc_65")->recover_s;
    CHECK(course.period_s > recover_s);
    CHECK(course.period_s < recover_s + 1.5);
}

TEST_CASE("a source that latches stays off until it is unplugged", "[course]") {
    const Course course =
        course_of(with_protection(Protection::latched), {{"capacitor_shorted", "cv1", 0.5}}, plugged("p1"));
    REQUIRE(course.settled);
    CHECK(course.phases.back().source == SourceState::latched);
    CHECK(course.phases.back().meter_volts < 1.0);
    CHECK(reached_s(course, 5.0) > 0.0);
}

TEST_CASE("a source that folds back stays on at little", "[course]") {
    const Course course =
        course_of(with_protection(Protection::foldback), {{"capacitor_shorted", "cv1", 0.5}}, plugged("p1"));
    REQUIRE(course.settled);
    const Phase& last = course.phases.back();
    CHECK(last.source == SourceState::live);
    CHECK(last.meter_volts < 3.3);  // so the inline meter is dark
    CHECK(last.meter_amps > 0.3);
    CHECK(last.meter_amps < 3.4);
}

TEST_CASE("nothing plugged, nothing at the plug", "[course]") {
    BenchConfiguration out = plugged("p1");
    out.charger_connected = false;
    const Course course = course_of({}, out);
    CHECK(course.phases.back().meter_volts == 0.0);
    CHECK_FALSE(course.charging);
}

TEST_CASE("without a battery the machine runs from the charger and does not charge", "[course]") {
    BenchConfiguration no_battery = plugged("p1");
    no_battery.battery_in = false;
    const Course course = course_of({}, no_battery);
    CHECK(course.machine_started);
    CHECK_FALSE(course.charging);
    CHECK(course.phases.back().contract_volts == Approx(20.0));
}

TEST_CASE("a cycle unrolls: the phase one period later is the same", "[course]") {
    const Course course = course_of({{"protector_shorted", "sp1", 3.3, 3.0}}, plugged("p1"));
    REQUIRE(course.cycling);
    const double from = course.phases[course.cycle_from].start_s;
    for (double t = from; t < from + course.period_s; t += 0.05) {
        const Phase& now = phase_at(course, t + 1e-6);
        const Phase& later = phase_at(course, t + 1e-6 + 7 * course.period_s);
        CHECK(now.meter_volts == later.meter_volts);
        CHECK(now.meter_amps == later.meter_amps);
    }
}

TEST_CASE("the stream of a meter along a course shows its lit times and leaves the dark out", "[course]") {
    const Course sound = course_of({}, plugged("p1"));
    const auto stream = meter_stream(sound, 0.0, 20.0, 50.0);
    REQUIRE_FALSE(stream.empty());
    CHECK(stream.front().t_s > 1.0);
    CHECK(stream.back().t_s < 20.0);
    for (const MeterSample& sample : stream)
        CHECK(sample.volts >= 3.3);
    const Course dark = course_of({{"controller_no_rd", "pc1"}}, plugged("p1"));
    CHECK(meter_stream(dark, 0.0, 20.0, 50.0).empty());
}

TEST_CASE("a resistive lead costs volts in proportion to amps", "[course]") {
    BenchConfiguration customers = plugged("p1");
    customers.lead = Owner::customer;
    const FaultInstance worn{"cable_resistive", lead_block_id("usb-c"), 0.9};
    const Course course = course_of({worn}, customers);
    const Course sound = course_of({}, customers);
    const double drop = sound.phases.back().meter_volts - course.phases.back().meter_volts;
    CHECK(drop == Approx(0.9 * course.phases.back().meter_amps).epsilon(0.15));
}
