// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/port_ohms.h"

#include <catch2/catch.hpp>

using namespace eh;

namespace {

MeterSummary level(double volts, double amps) {
    return {MeterPattern::steady, volts, 0.0, amps, 0.0, amps, 0.0};
}

}  // namespace

TEST_CASE("a source is high or rising only where its whole interval says so", "[readings][ohms]") {
    // USB Type-C: a cable may lose 0.25 V in its ground and 0.5 V in VBUS at 3 A, together 0.25 ohm.
    const double cable_ohms = 0.75 / 3.0;
    CHECK(judge_source({cable_ohms, cable_ohms - 0.02, cable_ohms + 0.02, 20.0, 1.0, 20}) ==
          SourceOhms::usual);
    CHECK(judge_source({0.5, 0.45, 0.55, 20.0, 1.0, 20}) == SourceOhms::high);
    CHECK(judge_source({0.5, 0.2, 0.8, 20.0, 1.0, 20}) == SourceOhms::usual);
    CHECK(judge_source({-0.05, -0.08, -0.02, 20.0, 1.0, 20}) == SourceOhms::rising);
    CHECK(judge_source({-0.05, -0.08, 0.01, 20.0, 1.0, 20}) == SourceOhms::usual);
}

TEST_CASE("a contact is judged by Ohm's and Joule's laws, as far as two instruments allow",
          "[readings][ohms]") {
    // 1 V at 2 A: half an ohm, two watts.
    const auto burnt = judge_contact(level(20.0, 2.0), 19.0);
    REQUIRE(burnt);
    CHECK(burnt->contact.ohms == Approx(0.5));
    CHECK(burnt->contact.heat_watts == Approx(2.0));
    CHECK(burnt->verdict == ContactOhms::hot);
    // The same half ohm at 0.5 A: 0.125 W, and 0.25 V is what two instruments at 20 V differ by anyway.
    const auto little = judge_contact(level(20.0, 0.5), 19.75);
    REQUIRE(little);
    CHECK(little->verdict == ContactOhms::cannot_tell);
    // With better instruments it is surely more than new.
    AccuracyOptions sharp;
    sharp.meter_volts_share = sharp.dmm_volts_share = 1e-4;
    sharp.meter_volts_digit = sharp.dmm_volts_digit = 1e-3;
    const auto worn = judge_contact(level(20.0, 0.5), 19.75, sharp);
    REQUIRE(worn);
    CHECK(worn->verdict == ContactOhms::above_new);
    CHECK(worn->margin_ohms < little->margin_ohms);
    const auto sound = judge_contact(level(20.0, 3.0), 20.0 - 3.0 * new_contact_ohms, sharp);
    REQUIRE(sound);
    CHECK(sound->verdict == ContactOhms::cannot_tell);
}

TEST_CASE("without a steady level or enough current no contact is judged", "[readings][ohms]") {
    MeterSummary cycling = level(20.0, 2.0);
    cycling.pattern = MeterPattern::cycling;
    CHECK_FALSE(judge_contact(cycling, 19.0));
    CHECK_FALSE(judge_contact(level(20.0, 0.05), 19.0));
}
