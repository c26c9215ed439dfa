// SPDX-License-Identifier: GPL-3.0-or-later
// What each kind of reading proves.
#include "core/proof/proof.h"

#include <catch2/catch.hpp>

#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

ProofVerdict judged(const ReadingValue& value, const BenchConfiguration& bench = plugged("p1")) {
    Reading reading;
    reading.id = "r";
    reading.configuration = bench;
    reading.value = value;
    return judge(*shared_table(chained).store(), reading);
}

}  // namespace

TEST_CASE("the machine's word passes where it charges or is full, and not else", "[proof][judge]") {
    for (int m = 0; m < firmware_message_count; ++m) {
        const auto message = static_cast<FirmwareMessage>(m);
        CAPTURE(to_text(message));
        const bool passes = message == FirmwareMessage::charging || message == FirmwareMessage::full;
        CHECK(judged(FirmwareReading{message, std::nullopt}).passed == passes);
    }
}

TEST_CASE("a plug that holds passes, one that drops out does not", "[proof][judge]") {
    CHECK(judged(WiggleReading{false}).passed);
    CHECK_FALSE(judged(WiggleReading{true}).passed);
}

TEST_CASE("a part passes as long as it is hardly warm, and says by how much", "[proof][judge]") {
    CHECK(judged(HotPartReading{"sp2", 2.0, 1.0}).passed);
    const ProofVerdict hot = judged(HotPartReading{"sp2", 41.0, 1.0});
    CHECK_FALSE(hot.passed);
    CHECK_THAT(hot.reason, Catch::Contains("41 K"));
    // It never passes warmer and fails cooler.
    bool passed = true;
    for (double rise = 0.0; rise < 80.0; rise += 0.5) {
        const bool passes = judged(HotPartReading{"sp2", rise, 1.0}).passed;
        CHECK((passed || !passes));
        passed = passes;
    }
}

TEST_CASE("a meter passes only with steady volts of the contract and more watts than the machine runs on",
          "[proof][judge]") {
    const auto meter = [](MeterPattern pattern, double volts, double amps, bool amps_known = true) {
        return MeterReading{{pattern, volts, 0.0, amps, 0.0, amps, 0.0}, amps_known};
    };
    CHECK(judged(meter(MeterPattern::steady, 20.0, 2.5)).passed);
    CHECK_FALSE(judged(meter(MeterPattern::cycling, 20.0, 2.5)).passed);
    CHECK_FALSE(judged(meter(MeterPattern::dark, 0.0, 0.0)).passed);
    CHECK_THAT(judged(meter(MeterPattern::steady, 5.0, 2.5)).reason, Catch::Contains("below"));
    CHECK_FALSE(judged(meter(MeterPattern::steady, 20.0, 0.05)).passed);
    CHECK_THAT(judged(meter(MeterPattern::steady, 20.0, 0.0, false)).reason, Catch::Contains("amps"));
}

TEST_CASE("what else is read proves nothing by itself", "[proof][judge]") {
    for (const ReadingValue& value : std::vector<ReadingValue>{
             NetVoltsReading{"main", 12.6}, NetOhmsReading{"main", 5e4}, DiodeReading{"main", 0.5},
             LookReading{"sp2", Look::sound}, ThroughReading{"sp2", 0.1, std::nullopt},
             TalkReading{NegotiationEnd::contract}, InjectionReading{}}) {
        const ProofVerdict verdict = judged(value);
        CHECK_FALSE(verdict.passed);
        CHECK_FALSE(verdict.reason.empty());
    }
}
