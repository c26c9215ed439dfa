// SPDX-License-Identifier: GPL-3.0-or-later
// What was measured of a job's battery, as the job keeps it.
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/battery/charging_proof.h"
#include "core/battery/uevent.h"

namespace eh {

class JsonReader;

struct BatteryLog {
    std::string cells;  // id in chemistries.json; empty: not chosen yet
    int in_series = 3;
    double capacity_wh = 50.0;
    double resolution_volts = 0.01;
    std::optional<double> machine_watts;
    bool machine_off = false;
    std::optional<double> limit;         // 0 to 1
    std::vector<BatteryVolts> readings;  // t_s: seconds since 1970
    std::string report;                  // text of the machine's own report, as pasted
    friend bool operator==(const BatteryLog&, const BatteryLog&) = default;
};

// The facts that the readings are judged with; cells that are not known count as the first chemistry's.
// Requires at least one chemistry.
ChargingFacts facts_of(const BatteryLog& log, const std::vector<Chemistry>& chemistries);

// Adds volts to the log. A time that goes back, as that of a clock that was set, is moved just behind the
// last. Refused, and not added, where no pack has such volts (0 to 60 V).
Outcome add_volts(BatteryLog& log, BatteryVolts reading);

// Takes over what the machine's own report says of the pack: capacity now, charge limit, and the cells whose
// nominal volts divide its design volts best (machines give nominal volts as their design volts), the first
// of equals; off by more than 0.15 cells, they stay as they were.
void take_report(BatteryLog& log, const std::string& text, const BatteryReport& report,
                 const std::vector<Chemistry>& chemistries);

// The log as the job file holds it; read_battery() gives back an equal one.
nlohmann::json write_battery(const BatteryLog& log);
// Refuses (JsonRefused) packs that cannot be and readings whose time goes back.
BatteryLog read_battery(const JsonReader& field);

}  // namespace eh
