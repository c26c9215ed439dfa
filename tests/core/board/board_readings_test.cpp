// SPDX-License-Identifier: GPL-3.0-or-later
// What the shop measured on boards of a kind, kept and read back.
#include "core/board/board_readings.h"

#include <catch2/catch.hpp>

using namespace eh;

namespace {

BoardReading measured(const std::string& net, double ohms, const std::string& job, bool sound) {
    BoardReading reading;
    reading.net = net;
    reading.value.value = ohms;
    reading.value.lead_ohms = 0.1;
    reading.job = job;
    reading.sound = sound;
    reading.taken_ms = 1'760'000'000'000;
    return reading;
}

}  // namespace

TEST_CASE("only sound nets of other jobs are a reference, each job once", "[board][expected]") {
    BoardReadings readings;
    readings.add(measured("vin", 0.4, "job-1", false));
    readings.add(measured("vin", 90e3, "job-1", true));  // after the repair
    readings.add(measured("vin", 80e3, "job-2", true));
    readings.add(measured("vin", 0.3, "job-3", false));
    readings.add(measured("main", 5e3, "job-2", true));
    CHECK(readings.sound_boards("vin", NetQuantity::ohms, "job-9").size() == 2);
    CHECK(readings.sound_boards("vin", NetQuantity::ohms, "job-2").size() == 1);
    CHECK(readings.sound_boards("vin", NetQuantity::drop, "").empty());
    REQUIRE(readings.newest("vin", NetQuantity::ohms, "job-1") != nullptr);
    CHECK(readings.newest("vin", NetQuantity::ohms, "job-1")->value.value == 90e3);
    CHECK(readings.set_sound("vin", NetQuantity::ohms, "job-3", true));
    CHECK(readings.sound_boards("vin", NetQuantity::ohms, "").size() == 3);
    // A later reading that is not sound takes the job's earlier one back.
    readings.add(measured("vin", 2.0, "job-2", false));
    CHECK(readings.sound_boards("vin", NetQuantity::ohms, "").size() == 2);
    CHECK_FALSE(readings.set_sound("nowhere", NetQuantity::ohms, "job-1", true));
}

TEST_CASE("readings of boards come back from their file", "[board][expected]") {
    BoardReadings readings;
    readings.board = "demo board";
    readings.add(measured("vin", 0.4, "job-1", false));
    readings.add(measured("main", 5e3, "job-2", true));
    BoardReading diode = measured("v33", 0.41, "job-2", true);
    diode.quantity = NetQuantity::drop;
    diode.value.lead_ohms = 0.0;
    readings.add(diode);
    BoardReading open = measured("vbus2", 0.0, "job-2", true);
    open.value.open = true;
    readings.add(open);
    const auto back = parse_board_readings(write_board_readings(readings), "readings.json");
    REQUIRE(back.ok());
    CHECK(back->board == "demo board");
    REQUIRE(back->all().size() == 4);
    CHECK(back->all()[0].value.lead_ohms == 0.1);
    CHECK(back->all()[2].quantity == NetQuantity::drop);
    CHECK(back->all()[3].value.open);
    CHECK(write_board_readings(*back) == write_board_readings(readings));
}

TEST_CASE("files that are no readings of boards are refused with the field", "[board][expected]") {
    CHECK_FALSE(parse_board_readings("{}", "a").ok());
    const std::string head = R"({"format": "eager-hound.board-readings/1", "readings": [)";
    CHECK(parse_board_readings(head + "]}", "a").ok());
    for (const char* bad :
         {R"({"net": "vin"})", R"({"net": "", "ohms": 1})", R"({"net": "vin", "ohms": -1})",
          R"({"net": "vin", "ohms": 1, "drop_volts": 0.4})", R"({"net": "vin", "ohms": "x"})"}) {
        const auto read = parse_board_readings(head + bad + "]}", "a");
        REQUIRE_FALSE(read.ok());
        CHECK(read.error().text().find("readings") != std::string::npos);
    }
    CHECK_FALSE(
        parse_board_readings(R"({"format": "eager-hound.board-readings/9", "readings": []})", "a").ok());
}
