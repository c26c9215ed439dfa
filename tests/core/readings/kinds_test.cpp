// SPDX-License-Identifier: GPL-3.0-or-later
// What must hold of every kind of reading, whichever are listed.
#include <catch2/catch.hpp>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/random.h"
#include "core/entry/quick_line.h"
#include "core/readings/kind_list.h"
#include "core/readings/reading_json.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

std::vector<ReadingKind> all_kinds() {
    std::vector<ReadingKind> kinds;
    for (int k = 0; k < reading_kind_count; ++k)
        kinds.push_back(static_cast<ReadingKind>(k));
    return kinds;
}

// A place that the kind can be taken at on the shipped machine.
std::string place_for(ReadingKind kind) {
    const Topology& machine = topology(barrel);
    for (const std::string& place : {machine.nets.front().id, machine.blocks.front().id, std::string("har"),
                                     machine.nets.front().id + '>' + machine.nets.back().id}) {
        Reading reading;
        reading.id = "r";
        reading.configuration = is_unpowered(kind) ? for_ohms() : plugged(machine.ports.front().id);
        if (kind == ReadingKind::injection) {
            reading.configuration = for_ohms();
            reading.configuration.injection = Injection{machine.nets.front().id, 1.0, 3.0};
        }
        reading.value = blank_value(kind, place);
        if (check_reading(reading, shared_table(barrel).plan()).ok())
            return place;
    }
    return {};
}

Reading blank(ReadingKind kind) {
    Reading reading;
    reading.id = "r1";
    reading.configuration = is_unpowered(kind) ? for_ohms() : plugged(topology(barrel).ports.front().id);
    if (kind == ReadingKind::injection) {
        reading.configuration = for_ohms();
        reading.configuration.injection = Injection{topology(barrel).nets.front().id, 1.0, 3.0};
    }
    reading.value = blank_value(kind, place_for(kind));
    if (auto* pack = std::get_if<PackReading>(&reading.value))
        pack->volts = 7.4;  // which always has a number
    return reading;
}

}  // namespace

TEST_CASE("every kind has a word of its own, and its value is of that kind", "[readings][kinds]") {
    std::set<std::string> words;
    for (const ReadingKind kind : all_kinds()) {
        const std::string word = to_text(kind);
        CAPTURE(word);
        CHECK_FALSE(word.empty());
        CHECK(words.insert(word).second);
        CHECK(reading_kind_from(word) == kind);
        CHECK(blank(kind).kind() == kind);
    }
    CHECK_FALSE(reading_kind_from("").has_value());
}

TEST_CASE("no two kinds begin a quick line with one word", "[readings][kinds]") {
    std::set<std::string_view> words;
    any_kind([&]<typename Value>(std::type_identity<Value>) {
        for (const std::string_view word : Traits<Value>::quick_words)
            CHECK(words.insert(word).second);
        return false;
    });
    CHECK(words.size() >= 8);
}

TEST_CASE("every kind fits a machine, is said in words, and comes back from its file", "[readings][kinds]") {
    for (const ReadingKind kind : all_kinds()) {
        const Reading reading = blank(kind);
        CAPTURE(to_text(kind));
        const Outcome fits = check_reading(reading, shared_table(barrel).plan());
        INFO((fits.ok() ? std::string() : fits.error().text()));
        CHECK(fits.ok());
        const std::string value = describe_value(reading, topology(barrel));
        CHECK_FALSE(value.empty());
        const std::string whole = describe(reading, topology(barrel));
        CHECK(whole.size() > value.size() + 2);
        CHECK(whole.compare(whole.size() - value.size(), value.size(), value) == 0);
        const auto back = parse_reading(reading_to_text(reading), "kinds");
        INFO((back.ok() ? std::string() : back.error().text()));
        REQUIRE(back.ok());
        CHECK(*back == reading);
    }
}

TEST_CASE(
    "a kind that is taken at a place is refused in a file that names none, and at one that is not there",
    "[readings][kinds]") {
    for (const ReadingKind kind : all_kinds()) {
        CAPTURE(to_text(kind));
        Reading reading = blank(kind);
        if (reading.place().empty())
            continue;
        nlohmann::json file = write_reading(reading);
        file.erase("place");
        const auto read = parse_reading(file.dump(), "kinds");
        // Nothing warm has no place.
        if (kind != ReadingKind::hot_part && kind != ReadingKind::injection) {
            REQUIRE_FALSE(read.ok());
            CHECK_THAT(read.error().text(), Catch::Contains("place"));
        }
        reading.value = blank_value(kind, "nowhere");
        const Outcome fits = check_reading(reading, shared_table(barrel).plan());
        REQUIRE_FALSE(fits.ok());
        CHECK_THAT(fits.error().text(), Catch::Contains("nowhere"));
    }
}

TEST_CASE("the bench that a kind needs is told from one that it cannot be taken on", "[readings][kinds]") {
    const BenchConfiguration off = for_ohms();
    const BenchConfiguration on = plugged("p1");
    for (const ReadingKind kind : all_kinds()) {
        CAPTURE(to_text(kind));
        if (is_by_eye(kind)) {
            BenchConfiguration opened = on;
            opened.case_open = true;
            CHECK(bench_conflict(kind, opened).empty());
            CHECK(bench_conflict(kind, off).empty());
            // What stands on the board is not seen through the case.
            CHECK(bench_conflict(kind, on).empty() == (kind == ReadingKind::look));
            continue;
        }
        const bool needs_off = is_unpowered(kind) || kind == ReadingKind::injection;
        CHECK(bench_conflict(kind, off).empty() == needs_off);
        CHECK(bench_conflict(kind, on).empty() == !needs_off);
        // A sentence for people.
        const std::string conflict = bench_conflict(kind, needs_off ? on : off);
        CHECK(conflict.back() == '.');
    }
}

TEST_CASE("only the kinds of the multimeter at a machine that is off have a number that may be OL",
          "[readings][kinds]") {
    for (const ReadingKind kind : all_kinds()) {
        CAPTURE(to_text(kind));
        Reading reading = blank(kind);
        std::optional<double>* number = number_when_off(reading);
        REQUIRE((number != nullptr) == is_unpowered(kind));
        if (number == nullptr)
            continue;
        if (kind != ReadingKind::pack) {
            CHECK_FALSE(number->has_value());
            CHECK_THAT(describe_value(reading, topology(barrel)), Catch::StartsWith("OL"));
        }
        *number = 0.5;
        CHECK_THAT(describe_value(reading, topology(barrel)), !Catch::StartsWith("OL"));
        *number = -1e12;
        CHECK_FALSE(check_reading(reading, shared_table(barrel).plan()).ok());
        *number = std::nan("");
        CHECK_FALSE(check_reading(reading, shared_table(barrel).plan()).ok());
    }
}

TEST_CASE("outcomes are numbered without holes and each has words of its own", "[readings][kinds]") {
    const MachinePlan& plan = shared_table(barrel).plan();
    for (const ReadingKind kind : all_kinds()) {
        CAPTURE(to_text(kind));
        const std::size_t count = outcome_count(kind, plan);
        REQUIRE(count >= 2);
        std::set<std::string> words;
        for (std::size_t o = 0; o < count; ++o) {
            // Numbers 1 and 3 of the meter are no outcome: a level always has its pattern.
            const auto pattern = static_cast<MeterPattern>(o);
            if (kind == ReadingKind::meter && o < 4 && pattern != MeterPattern::dark &&
                pattern != MeterPattern::flash)
                continue;
            const std::string text = outcome_text(kind, static_cast<int>(o), plan);
            CAPTURE(o, text);
            CHECK_FALSE(text.empty());
            // Parts of one machine may have one title: two capacitors of a port.
            if (kind != ReadingKind::hot_part && kind != ReadingKind::injection)
                CHECK(words.insert(text).second);
        }
    }
}

TEST_CASE("the broad spread is a density: over all that can be read it sums to one at most",
          "[readings][kinds]") {
    const auto broad = [](const ReadingValue& value) {
        Reading reading;
        reading.value = value;
        const ReadingTerms terms = reading_terms(reading, {});
        CHECK(terms.broad > 0.0);
        CHECK(std::isfinite(terms.broad));
        CHECK(terms.broad == Approx(terms.broad_values / terms.words));
        return terms.broad;
    };
    // Volts from -1 to 21, ohms by their logarithm from 0.05 ohm to 10 megohm, as the estimates in
    // kind_parts.h say.
    CHECK(22.0 * broad(NetVoltsReading{"x", 5.0}) == Approx(1.0));
    CHECK(22.0 * 22.0 * broad(NetVoltsReading{"x", 5.0, 1.0}) ==
          Approx(Traits<NetVoltsReading>::alternates_anyhow));
    const double ln_span = std::log(1e7 / 0.05);
    CHECK(ln_span * broad(NetOhmsReading{"x", 3.3}) + broad(NetOhmsReading{"x", std::nullopt}) ==
          Approx(1.0).epsilon(0.02));
    CHECK(2.0 * broad(DiodeReading{"x", 0.5}) + broad(DiodeReading{"x", std::nullopt}) == Approx(1.0));
    // Pushed and not, each with its two outcomes.
    CHECK(broad(ThroughReading{"x", 0.1, true}) + broad(ThroughReading{"x", 0.1, false}) ==
          Approx(broad(ThroughReading{"x", 0.1, std::nullopt})));
    CHECK(broad(WiggleReading{true}) + broad(WiggleReading{false}) == Approx(1.0));
    CHECK(look_count * broad(LookReading{"x", Look::burnt}) == Approx(1.0));
    // Nothing, or one flaw of a board of fifty parts.
    CHECK(broad(BoardLookReading{}) + 50.0 * broad(BoardLookReading{{{"x", Look::burnt}}}) == Approx(1.0));
    CHECK(machine_sign_count * broad(SignReading{}) == Approx(1.0));
    CHECK(charge_trend_count * broad(FirmwareReading{FirmwareMessage::full, {}, ChargeTrend::flat}) ==
          Approx(broad(FirmwareReading{})));
    CHECK(negotiation_end_count * broad(TalkReading{}) == Approx(1.0));
    CHECK(firmware_message_count * broad(FirmwareReading{}) == Approx(1.0));
    CHECK(firmware_message_count * 100.0 * broad(FirmwareReading{FirmwareMessage::charging, 40.0}) ==
          Approx(1.0));
    // Exponential in the rise, a word for each part in sight.
    double sum = broad(HotPartReading{});
    constexpr double step_kelvin = 0.05;
    for (double rise = 0.5 * step_kelvin; rise < 600.0; rise += step_kelvin)
        sum += step_kelvin * Traits<HotPartReading>::words * broad(HotPartReading{"x", rise, 1.0});
    CHECK(sum == Approx(1.0).epsilon(0.01));
    double meter = 2.0 * broad(MeterReading{});  // dark, and a flash
    for (double amps = 0.5 * 0.01; amps < 15.0; amps += 0.01)
        meter += 2.0 * 22.0 * 0.01 *
                 broad(MeterReading{{MeterPattern::steady, 5.0, 0.0, amps, 0.0, 0.0, 0.0}, true});
    CHECK(meter == Approx(1.0).epsilon(0.01));
}

TEST_CASE("a reading shows the same as itself, and the likeness goes both ways", "[readings][kinds]") {
    Random random(5);
    const AccuracyOptions accuracy;
    const auto drawn = [&]() -> std::vector<Reading> {
        std::vector<Reading> readings;
        const double number = std::pow(10.0, 4.0 * random.uniform() - 1.0);
        const double near = number * (1.0 + 0.1 * (random.uniform() - 0.5));
        for (const double value : {number, near, 2.0 * number}) {
            readings.push_back(ohms_reading("a", for_ohms(), "x", value));
            readings.push_back(volts_reading("a", plugged("p1"), "x", std::min(value, 50.0)));
            readings.push_back(meter_reading("a", plugged("p1"), MeterPattern::steady, std::min(value, 50.0),
                                             random.uniform()));
            Reading diode;
            diode.value = DiodeReading{"x", std::min(value, 2.0)};
            readings.push_back(diode);
        }
        readings.push_back(open_reading("a", for_ohms(), "x"));
        return readings;
    };
    for (int round = 0; round < 50; ++round) {
        const std::vector<Reading> readings = drawn();
        for (const Reading& a : readings) {
            CHECK(show_the_same(a, a, accuracy));
            for (const Reading& b : readings) {
                CHECK(show_the_same(a, b, accuracy) == show_the_same(b, a, accuracy));
                if (a.kind() != b.kind())
                    CHECK_FALSE(show_the_same(a, b, accuracy));
            }
        }
    }
    // Far beyond what any instrument leaves.
    CHECK_FALSE(show_the_same(ohms_reading("a", for_ohms(), "x", 10.0),
                              ohms_reading("b", for_ohms(), "x", 20.0), accuracy));
    CHECK_FALSE(show_the_same(ohms_reading("a", for_ohms(), "x", 10.0), open_reading("b", for_ohms(), "x"),
                              accuracy));
}

TEST_CASE("readings of one stage share a channel, those of the inlets by their port", "[readings][kinds]") {
    const Topology& machine = topology(chained);
    const auto channel = [&](const std::string& net) {
        return reading_terms(ohms_reading("a", for_ohms(), net, 3.0), machine).channels[0];
    };
    CHECK(channel("vbus1") != channel("vbus2"));
    CHECK(channel("nowhere") != channel("vbus1"));
    for (const Net& net : machine.nets) {
        for (const Net& other : machine.nets) {
            const bool one_stage = !net.stage.empty() && net.stage == other.stage &&
                                   (net.stage != "inlet" || net.port == other.port);
            CHECK((channel(net.id) == channel(other.id)) == (one_stage || net.id == other.id));
        }
    }
    // Volts and ohms of a net are two quantities.
    CHECK(reading_terms(volts_reading("a", plugged("p1"), "vbus1", 5.0), machine).channels[0] !=
          channel("vbus1"));
}

TEST_CASE("warmth without a part is no reading, nothing warm needs none", "[readings][kinds]") {
    const Reading nothing = blank(ReadingKind::hot_part);
    nlohmann::json file = write_reading(nothing);
    file.erase("place");
    file["value"] = 0.0;
    CHECK(parse_reading(file.dump(), "kinds").ok());
    file["value"] = 30.0;
    const auto warm = parse_reading(file.dump(), "kinds");
    REQUIRE_FALSE(warm.ok());
    CHECK_THAT(warm.error().text(), Catch::Contains("place"));
    // Felt by a finger, so without a rise.
    file.erase("value");
    file["certainty"] = 0.4;
    CHECK_FALSE(parse_reading(file.dump(), "kinds").ok());
}
