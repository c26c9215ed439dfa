// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/battery/battery_log.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/json_reader.h"

namespace eh {

using nlohmann::json;

ChargingFacts facts_of(const BatteryLog& log, const std::vector<Chemistry>& chemistries) {
    assert(!chemistries.empty());
    const auto found = std::find_if(chemistries.begin(), chemistries.end(),
                                    [&](const Chemistry& cells) { return cells.id == log.cells; });
    ChargingFacts facts;
    facts.pack.cells = found == chemistries.end() ? chemistries.front() : *found;
    facts.pack.in_series = log.in_series;
    facts.pack.capacity_wh = log.capacity_wh;
    facts.resolution_volts = log.resolution_volts;
    facts.machine_watts = log.machine_watts;
    facts.machine_off = log.machine_off;
    facts.limit = log.limit;
    return facts;
}

Outcome add_volts(BatteryLog& log, BatteryVolts reading) {
    constexpr double highest_volts = 60.0;
    constexpr double shortest_step_s = 0.001;
    if (!(reading.volts > 0.0 && reading.volts <= highest_volts))
        return refused("a pack has more than 0 and at most 60 V");
    if (!log.readings.empty())
        reading.t_s = std::max(reading.t_s, log.readings.back().t_s + shortest_step_s);
    log.readings.push_back(reading);
    return Done{};
}

void take_report(BatteryLog& log, const std::string& text, const BatteryReport& report,
                 const std::vector<Chemistry>& chemistries) {
    log.report = text;
    if (report.full_wh)
        log.capacity_wh = std::max(1.0, *report.full_wh);
    if (report.limit_percent && *report.limit_percent < 100.0)
        log.limit = *report.limit_percent / 100.0;
    constexpr double farthest = 0.15;
    double nearest = farthest;
    for (const Chemistry& cells : chemistries) {
        const double count = report.design_volts.value_or(0.0) / cells.nominal_volts;
        const double off = std::abs(count - std::round(count));
        if (std::round(count) >= 1.0 && off < nearest - 1e-9) {
            nearest = off;
            log.cells = cells.id;
            log.in_series = static_cast<int>(std::round(count));
        }
    }
}

json write_battery(const BatteryLog& log) {
    json readings = json::array();
    for (const BatteryVolts& reading : log.readings) {
        readings.push_back(
            {{"t_s", reading.t_s}, {"volts", reading.volts}, {"charger_in", reading.charger_in}});
        if (reading.input_watts)
            readings.back()["input_watts"] = *reading.input_watts;
    }
    json j{{"cells", log.cells},
           {"in_series", log.in_series},
           {"capacity_wh", log.capacity_wh},
           {"resolution_volts", log.resolution_volts},
           {"machine_off", log.machine_off},
           {"readings", std::move(readings)}};
    if (log.machine_watts)
        j["machine_watts"] = *log.machine_watts;
    if (log.limit)
        j["limit"] = *log.limit;
    if (!log.report.empty())
        j["report"] = log.report;
    return j;
}

BatteryLog read_battery(const JsonReader& field) {
    BatteryLog log;
    log.cells = field.text("cells", "");
    log.in_series = static_cast<int>(field.number_between("in_series", 1.0, 8.0));
    log.capacity_wh = field.number_between("capacity_wh", 0.1, 300.0);
    log.resolution_volts = field.number_between("resolution_volts", 1e-5, 1.0);
    log.machine_off = field.boolean("machine_off", false);
    if (field.has("machine_watts"))
        log.machine_watts = field.number_between("machine_watts", 0.0, 1000.0);
    if (field.has("limit"))
        log.limit = field.number_between("limit", 0.0, 1.0);
    log.report = field.text("report", "");
    for (const JsonReader& item : field.items_or_none("readings")) {
        BatteryVolts reading{item.number("t_s"), item.number_between("volts", 0.0, 60.0),
                             item.boolean("charger_in", true), std::nullopt};
        if (item.has("input_watts"))
            reading.input_watts = item.number_between("input_watts", 0.0, 1000.0);
        if (!log.readings.empty() && reading.t_s < log.readings.back().t_s)
            item.refuse("the time goes back from one reading to the next");
        log.readings.push_back(reading);
    }
    return log;
}

}  // namespace eh
