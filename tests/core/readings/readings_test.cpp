// SPDX-License-Identifier: GPL-3.0-or-later
// Readings in words, their checks, the charge path, costs, and the simulated bench.
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/readings/bench_text.h"
#include "core/readings/reading.h"

#include <algorithm>
#include <cmath>

#include "core/base/files.h"
#include "core/inference/path_view.h"
#include "evaluation/simulated_bench.h"
#include "tests/support/seen.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("a reading in words says where, how the machine stood, and what was seen", "[reading]") {
    const Topology& machine = topology(chained);
    Reading reading = meter_reading("a", plugged("p2", PlugSide::b), MeterPattern::steady, 5.02, 0.183);
    CHECK(describe(reading, machine) == "Port 2, side B, battery in: 5.02 V, 183 mA, steady");
    auto& meter = std::get<MeterReading>(reading.value);
    meter.amps_known = false;
    CHECK(describe_value(reading, machine) == "5.02 V, steady");
    meter.meter.pattern = MeterPattern::cycling;
    meter.meter.period_s = 2.1;
    CHECK_THAT(describe_value(reading, machine), Catch::Contains("every 2.1 s"));
    meter.meter.pattern = MeterPattern::dark;
    CHECK(describe_value(reading, machine) == "meter dark");
    CHECK(describe(ohms_reading("b", for_ohms(), "vbus2", 3.3), machine) == "VBUS of port 2: 3.30 Ω");
    CHECK(describe_value(open_reading("c", for_ohms(), "vbus2"), machine) == "OL");
    BenchConfiguration without = for_ohms();
    without.removed = {"sp2"};
    CHECK_THAT(describe(open_reading("d", without, "vbus2"), machine),
               Catch::Contains("without: Surge protector of port 2"));
    BenchConfiguration customers = plugged("p1");
    customers.charger = Owner::customer;
    customers.battery_in = false;
    CHECK(describe(customers, machine) == "Port 1, side A, customer's charger, battery out");
    Reading hot;
    hot.value = HotPartReading{"pc2", 32.0, 1.0};
    CHECK(describe_value(hot, machine) == "Port controller 2 +32 K");
}

TEST_CASE("kinds and messages have words that read back", "[reading]") {
    for (int k = 0; k < reading_kind_count; ++k) {
        const auto kind = static_cast<ReadingKind>(k);
        CHECK(reading_kind_from(to_text(kind)) == kind);
    }
    for (int m = 0; m < firmware_message_count; ++m) {
        const auto message = static_cast<FirmwareMessage>(m);
        CHECK(firmware_message_from(to_text(message)) == message);
    }
    CHECK_FALSE(reading_kind_from("smell").has_value());
    CHECK_FALSE(firmware_message_from("hello").has_value());
}

TEST_CASE("lists of blocks stay sorted and without doubles", "[reading]") {
    std::vector<std::string> list;
    for (const char* block : {"sp2", "cv1", "mem", "cv1", "sp2"})
        insert_block(list, block);
    CHECK(list == std::vector<std::string>{"cv1", "mem", "sp2"});
    erase_block(list, "mem");
    erase_block(list, "nobody");
    CHECK(list == std::vector<std::string>{"cv1", "sp2"});
}

TEST_CASE("only what changes currents tells configurations apart", "[reading]") {
    BenchConfiguration a = plugged("p1");
    BenchConfiguration b = a;
    b.case_open = true;
    b.board_out = true;
    CHECK(electrical_part(a) == electrical_part(b));
    b.battery_in = false;
    CHECK(electrical_part(a) != electrical_part(b));
    // Without a charger it does not matter whose it would be, or where it was.
    BenchConfiguration c = unpowered(plugged("p1"));
    BenchConfiguration d = unpowered(plugged("p2", PlugSide::b));
    d.charger = Owner::customer;
    CHECK(electrical_part(c) == electrical_part(d));
}

TEST_CASE("a reading at the plug needs the charger", "[reading]") {
    BenchConfiguration out = plugged("p1");
    out.charger_connected = false;
    CHECK_FALSE(
        check_reading(meter_reading("a", out, MeterPattern::dark), shared_table(chained).plan()).ok());
    CHECK(check_reading(meter_reading("a", plugged("p1"), MeterPattern::dark), shared_table(chained).plan())
              .ok());
    CHECK_FALSE(
        check_reading(meter_reading("a", plugged("p9"), MeterPattern::dark), shared_table(chained).plan())
            .ok());
    CHECK_FALSE(check_reading(meter_reading("a", plugged("p1"), MeterPattern::steady, 5.0, 1e4),
                              shared_table(chained).plan())
                    .ok());
    CHECK_FALSE(check_reading(meter_reading("a", plugged("p1"), MeterPattern::steady, std::nan(""), 0.1),
                              shared_table(chained).plan())
                    .ok());
}

TEST_CASE("the charge path shows sound volts, and less where the leading suspect stops them", "[path]") {
    PredictionTable& table = shared_table(chained);
    const auto priors = priors_of(table.hypotheses());
    const std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 20.0, 0.02),
                                        meter_reading("b", plugged("p2"), MeterPattern::steady, 19.9, 1.6)};
    const Ranking ranking = rank(table, priors, readings);
    const PathView unknown = path_view(table, ranking, [] {
        BenchConfiguration never = plugged("p1");
        never.replaced = {"aon"};
        return never;
    }());
    CHECK(unknown.nets.empty());
    const PathView view = path_view(table, ranking, plugged("p1"));
    const auto volts = [&](const char* net) {
        const auto found =
            std::find_if(view.nets.begin(), view.nets.end(), [&](const NetView& n) { return n.net == net; });
        REQUIRE(found != view.nets.end());
        return *found;
    };
    CHECK(volts("vbus1").sound_volts > 18.5);
    CHECK(volts("vin").sound_volts > 18.0);
    // 20 V and no current at one port only: its switch does not close, so nothing stands behind it.
    CHECK(ranking.parts.front().block == "sw1");
    CHECK(volts("vbus1").likely_volts > 18.5);
    CHECK(volts("vin").likely_volts < 3.0);
    CHECK(view.sound_meter.amps > 1.0);
}

TEST_CASE("what a suspect makes one expect is said in the units of the reading", "[path]") {
    PredictionTable& table = shared_table(chained);
    const auto hypothesis = [&](const char* fault, const char* block) {
        const auto& all = table.hypotheses();
        const auto found = std::find_if(all.begin(), all.end(), [&](const Hypothesis& h) {
            return !h.faults.empty() && h.faults.front().fault == fault && h.faults.front().block == block;
        });
        return static_cast<std::size_t>(found - all.begin());
    };
    const Reading meter = meter_reading("a", plugged("p1"), MeterPattern::steady, 5.0, 0.1);
    table.powered(meter.configuration);
    CHECK_THAT(expectation_text(table, hypothesis("memory_unreadable", "mem"), meter),
               Catch::Contains("steady"));
    CHECK(expectation_text(table, hypothesis("controller_no_rd", "pc1"), meter) == "meter dark");
    const Reading ohms = ohms_reading("b", for_ohms(), "vbus1", 5.0);
    table.ohms(ohms.configuration, 0);
    CHECK_THAT(expectation_text(table, hypothesis("capacitor_shorted", "cv1"), ohms), Catch::Contains("Ω"));
    CHECK(expectation_text(table, hypothesis("memory_unreadable", "mem"), ohms) == "OL");
}

TEST_CASE("the simulated bench reads what it was asked to, with noise", "[bench]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    SimulatedBench bench(plan, {{"capacitor_shorted", "cv2", 1.2}}, 11);
    NextAct act;
    act.reading = ReadingKind::net_ohms;
    act.place = "vbus2";
    act.configuration = for_ohms();
    const Reading ohms = bench.take(act);
    CHECK(ohms.kind() == ReadingKind::net_ohms);
    REQUIRE(number_of(ohms));
    CHECK(*number_of(ohms) == Approx(1.2).margin(0.25));
    act.place = "vbus1";
    CHECK_FALSE(number_of(bench.take(act)));
    act.reading = ReadingKind::meter;
    act.place.clear();
    act.configuration = plugged("p1");
    CHECK(meter_of(bench.take(act)).volts > 18.5);
    act.reading = ReadingKind::hot_part;
    act.configuration = plugged("p2");
    CHECK(bench.take(act).place() == "cv2");
}

TEST_CASE("the costs file is refused with its field when a number is off", "[costs]") {
    const std::string good = *read_text_file(default_data_directory() / "costs.json");
    CHECK(parse_costs(good, "costs.json").ok());
    for (const auto& [what, with] : std::vector<std::pair<std::string, std::string>>{
             {"\"open_case\": 8", "\"open_case\": -8"},
             {"\"repair_due_probability\": 0.92", "\"repair_due_probability\": 92"},
             {"\"wiggle\": 0.7", "\"waggle\": 0.7"},
             {"eager-hound.costs/1", "eager-hound.costs/5"}}) {
        std::string bad = good;
        const auto at = bad.find(what);
        REQUIRE(at != std::string::npos);
        bad.replace(at, what.size(), with);
        const auto parsed = parse_costs(bad, "costs.json");
        CAPTURE(with);
        REQUIRE_FALSE(parsed.ok());
        CHECK_THAT(parsed.error().text(), Catch::StartsWith("costs.json"));
    }
}

TEST_CASE("an unseen topology is diagnosed without new code or faults", "[reading][knowledge]") {
    // Five ports on the chain, which nobody ships: only the file is new.
    const std::string base =
        *read_text_file(default_data_directory() / "topologies" / "usbc-two-chained.json");
    const nlohmann::json base_file = nlohmann::json::parse(base);
    std::string ports;
    for (const char* n : {"1", "2", "3", "4", "5"})
        ports += (ports.empty() ? "" : ", ") + std::string(R"({"id": "p)") + n + R"(", "title": "Port )" + n +
                 R"(", "family": "usb-c", "charger": "usbc_65", "vbus": "vbus)" + n + R"("})";
    const std::string text =
        R"({"format": "eager-hound.topology/1", "id": "five", "based_on": "usbc-two-chained", "title": "Five",
            "ports": [)" +
        ports + "]}";
    const auto parsed = parse_topology(
        text, "five.json", shipped_knowledge().kinds, shipped_knowledge().kit,
        [&](const std::string& id) { return id == "usbc-two-chained" ? &base_file : nullptr; });
    INFO((parsed.ok() ? std::string() : parsed.error().text()));
    REQUIRE(parsed.ok());
    const FittedPlan plan(shipped_knowledge(), *parsed);
    PredictionTable table(plan, make_hypotheses(plan, {}));
    const std::vector<Reading> readings{ohms_reading("a", for_ohms(), "vbus3", 1.1),
                                        open_reading("b", for_ohms(), "vbus1"),
                                        open_reading("c", for_ohms(), "vbus2")};
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    double line = 0.0;
    for (const PartSuspicion& part : ranking.parts) {
        for (const char* block : {"rec3", "sp3", "cv3", "pc3", "sw3"})
            line += part.block == block ? part.probability : 0.0;
    }
    // Three ohms readings and nothing else: "none of these" keeps some of it.
    CHECK(line > 0.9);
}
