// SPDX-License-Identifier: GPL-3.0-or-later
// The port table: what is told apart and what is not.
#include "core/readings/port_survey.h"

#include <catch2/catch.hpp>

#include "core/base/random.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Reading meter(const std::string& port, double volts, double amps, PlugSide side = PlugSide::a,
              bool battery = true) {
    Reading reading;
    reading.configuration.port = port;
    reading.configuration.side = side;
    reading.configuration.battery_in = battery;
    reading.value = MeterReading{{MeterPattern::steady, volts, 0.0, amps, 0.0, 0.0, 0.0}, true};
    return reading;
}

}  // namespace

TEST_CASE("0.13 A against 0.45 A is more than the noise, 0.130 A against 0.133 A is not", "[diagnosis]") {
    // Common practice: small differences matter and are repeatable.
    const Topology& two = topology(chained);
    const auto different = survey_ports({meter("p1", 5.02, 0.13), meter("p2", 5.01, 0.45)}, two);
    REQUIRE(different.of_ports.size() == 1);
    CHECK(different.of_ports.front().likeness == Likeness::different);
    CHECK(different.verdict == PortsVerdict::different);
    CHECK_THAT(different.says, Catch::Contains("0.130 A against 0.450 A"));
    const auto alike = survey_ports({meter("p1", 5.02, 0.130), meter("p2", 5.01, 0.133)}, two);
    CHECK(alike.of_ports.front().likeness == Likeness::alike);
    CHECK(alike.verdict == PortsVerdict::alike);
    // Alike says nothing against single ports on a chain.
    CHECK_THAT(alike.says, Catch::Contains("chain"));
}

TEST_CASE("readings taken again sharpen the test, and scatter dulls it", "[diagnosis]") {
    const Topology& two = topology(chained);
    std::vector<Reading> scattered;
    for (const double amps : {0.8, 1.6, 1.1, 1.9})
        scattered.push_back(meter("p1", 20.0, amps));
    for (const double amps : {1.0, 1.8, 1.4, 2.1})
        scattered.push_back(meter("p2", 20.0, amps));
    CHECK(survey_ports(scattered, two).of_ports.front().likeness == Likeness::cannot_tell);
    std::vector<Reading> firm;
    for (const double amps : {1.300, 1.302, 1.299, 1.301})
        firm.push_back(meter("p1", 20.0, amps));
    for (const double amps : {1.400, 1.402, 1.399, 1.401})
        firm.push_back(meter("p2", 20.0, amps));
    CHECK(survey_ports(firm, two).of_ports.front().likeness == Likeness::different);
    CHECK(survey_ports({meter("p1", 20.0, 1.3), meter("p2", 20.0, 1.4)}, two).of_ports.front().likeness !=
          Likeness::different);
}

TEST_CASE("ports that are the same are called different once in a hundred times at most", "[diagnosis]") {
    const Topology& two = topology(chained);
    Random random(12);
    int wrong = 0;
    constexpr int trials = 2000;
    for (int i = 0; i < trials; ++i) {
        std::vector<Reading> readings;
        const double amps = 0.1 + 2.0 * random.uniform();
        for (const char* port : {"p1", "p2"}) {
            for (int k = 0; k < 3; ++k)
                readings.push_back(
                    meter(port, 20.0, amps * (1.0 + 0.03 * random.normal()) + 0.008 * random.normal()));
        }
        wrong += survey_ports(readings, two).of_ports.front().likeness == Likeness::different ? 1 : 0;
    }
    // 20 are expected at 1 %; 35 is three standard deviations of a binomial above.
    CHECK(wrong <= 35);
}

TEST_CASE("the port that stands out among four is named, sides and battery are compared too", "[diagnosis]") {
    const Topology& four = topology("usbc-four-chained");
    std::vector<Reading> readings;
    for (const Port& port : four.ports)
        readings.push_back(meter(port.id, 5.0, port.id == "p3" ? 0.9 : 0.13));
    readings.push_back(meter("p1", 20.0, 1.2, PlugSide::b));
    readings.push_back(meter("p1", 5.0, 0.05, PlugSide::a, false));
    const auto survey = survey_ports(readings, four);
    CHECK(survey.verdict == PortsVerdict::one_stands_out);
    CHECK(survey.odd_port == "p3");
    REQUIRE(survey.of_sides.size() == 1);
    CHECK(survey.of_sides.front().likeness == Likeness::different);
    REQUIRE(survey.of_batteries.size() == 1);
    CHECK(survey.of_batteries.front().likeness == Likeness::different);
    CHECK(survey.missing.size() == 3);
    // Set aside, it counts no longer.
    readings[2].set_aside = true;
    CHECK(survey_ports(readings, four).verdict == PortsVerdict::alike);
}

TEST_CASE("a pattern differs whatever the amps, readings before a repair are another machine",
          "[diagnosis]") {
    const Topology& two = topology(chained);
    Reading dark = meter("p1", 0.0, 0.0);
    dark.value = MeterReading{};
    auto survey = survey_ports({dark, meter("p2", 20.0, 1.3)}, two);
    CHECK(survey.verdict == PortsVerdict::different);
    CHECK_THAT(survey.says, Catch::Contains("dark against steady"));
    Reading after = meter("p1", 20.0, 1.3);
    after.configuration.replaced = {"sp1"};
    survey = survey_ports({dark, meter("p2", 20.0, 1.3), after}, two);
    CHECK(survey.rows.size() == 1);
    CHECK(survey.verdict == PortsVerdict::too_few);
    CHECK(survey_ports({}, two).missing.size() == 4);
}

TEST_CASE("a charger at a tester, and a plug that is held, are no ports to compare", "[diagnosis]") {
    Reading at_tester = meter("p1", 19.7, 2.9);
    at_tester.configuration.tester = Tester::loaded;
    Reading held = meter("p1", 20.0, 2.0);
    held.configuration.plug_held = true;
    const Reading other = meter("p2", 20.0, 0.1);
    CHECK(survey_ports({at_tester, other}, topology(chained)).of_ports.empty());
    CHECK(survey_ports({held, other}, topology(chained)).of_ports.empty());
}
