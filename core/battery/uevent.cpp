// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/battery/uevent.h"

#include <charconv>
#include <cmath>
#include <map>

#include "core/base/text.h"

namespace eh {
namespace {

constexpr double micro = 1e-6;
constexpr double worn_health = 0.6;
constexpr double tired_health = 0.8;
constexpr int many_cycles = 800;
constexpr double cold_c = 5.0;
constexpr double hot_c = 45.0;

std::optional<double> number_of(std::string_view text) {
    double value = 0.0;
    const auto [end, problem] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (problem != std::errc() || end != text.data() + text.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

SupplyStatus status_of(std::string_view text) {
    if (text == "Charging")
        return SupplyStatus::charging;
    if (text == "Discharging")
        return SupplyStatus::discharging;
    if (text == "Not charging")
        return SupplyStatus::not_charging;
    if (text == "Full")
        return SupplyStatus::full;
    return SupplyStatus::unknown;
}

class Reader {
  public:
    // Lines into keys without their prefix.
    explicit Reader(std::string_view text) {
        constexpr std::string_view prefix = "POWER_SUPPLY_";
        while (!text.empty()) {
            const auto end = text.find('\n');
            std::string_view line = text.substr(0, end);
            text = end == std::string_view::npos ? std::string_view() : text.substr(end + 1);
            if (!line.empty() && line.back() == '\r')
                line.remove_suffix(1);
            const auto equals = line.find('=');
            if (line.substr(0, prefix.size()) != prefix || equals == std::string_view::npos)
                continue;
            values_[std::string(line.substr(prefix.size(), equals - prefix.size()))] =
                line.substr(equals + 1);
        }
    }

    [[nodiscard]] std::string text(const char* key) const {
        const auto found = values_.find(key);
        return found == values_.end() ? std::string() : std::string(found->second);
    }

    // A number times `scale` within the limits; else a remark.
    std::optional<double> number(const char* key, double scale, double least, double most) {
        const auto found = values_.find(key);
        if (found == values_.end())
            return std::nullopt;
        const auto value = number_of(found->second);
        if (!value) {
            remarks_.push_back(std::string(key) + " is no number (" + in_quotes(found->second) + ")");
            return std::nullopt;
        }
        const double scaled = *value * scale;
        if (scaled < least || scaled > most) {
            remarks_.push_back(std::string(key) + " cannot be (" + number_text("%.4g", scaled) + ")");
            return std::nullopt;
        }
        return scaled;
    }

    [[nodiscard]] std::vector<std::string> remarks() const { return remarks_; }

  private:
    std::map<std::string, std::string_view> values_;
    std::vector<std::string> remarks_;
};

}  // namespace

std::string describe(SupplyStatus status) {
    switch (status) {
        case SupplyStatus::charging:
            return "charging";
        case SupplyStatus::discharging:
            return "discharging";
        case SupplyStatus::not_charging:
            return "not charging";
        case SupplyStatus::full:
            return "full";
        case SupplyStatus::unknown:
            break;
    }
    return "not said";
}

Result<BatteryReport> parse_uevent(std::string_view text) {
    constexpr double most_volts = 60.0;
    constexpr double most_amps = 50.0;
    constexpr double most_wh = 300.0;
    const std::string readable = as_utf8(text);
    Reader reader(readable);
    BatteryReport report;
    report.name = reader.text("NAME");
    report.technology = reader.text("TECHNOLOGY");
    report.status = status_of(reader.text("STATUS"));
    report.volts = reader.number("VOLTAGE_NOW", micro, 0.0, most_volts);
    report.design_volts = reader.number("VOLTAGE_MIN_DESIGN", micro, 1.0, most_volts);
    report.amps = reader.number("CURRENT_NOW", micro, -most_amps, most_amps);
    report.watts = reader.number("POWER_NOW", micro, -most_volts * most_amps, most_volts * most_amps);
    for (auto* value : {&report.amps, &report.watts})
        if (*value)
            *value = std::abs(**value);  // drivers differ in the sign of what flows out
    if (!report.watts && report.amps && report.volts)
        report.watts = *report.amps * *report.volts;
    report.percent = reader.number("CAPACITY", 1.0, 0.0, 100.0);
    const auto energy = [&](const char* watt_hours, const char* amp_hours) -> std::optional<double> {
        if (const auto wh = reader.number(watt_hours, micro, 0.0, most_wh))
            return wh;
        const auto ah = reader.number(amp_hours, micro, 0.0, most_wh);
        const auto volts = report.design_volts ? report.design_volts : report.volts;
        return ah && volts ? std::optional(*ah * *volts) : std::nullopt;
    };
    report.full_wh = energy("ENERGY_FULL", "CHARGE_FULL");
    report.design_wh = energy("ENERGY_FULL_DESIGN", "CHARGE_FULL_DESIGN");
    report.now_wh = energy("ENERGY_NOW", "CHARGE_NOW");
    if (const auto cycles = reader.number("CYCLE_COUNT", 1.0, 0.0, 1e5))
        report.cycles = static_cast<int>(*cycles);
    report.limit_percent = reader.number("CHARGE_CONTROL_END_THRESHOLD", 1.0, 0.0, 100.0);
    report.celsius = reader.number("TEMP", 0.1, -40.0, 120.0);
    if (report.full_wh && report.design_wh && *report.design_wh > 0.0)
        report.health = *report.full_wh / *report.design_wh;
    report.remarks = reader.remarks();
    if (!is_utf8(text))
        report.remarks.emplace_back("The report holds bytes that are no UTF-8; they are read as Latin-1.");
    if (!report.volts && !report.percent && !report.full_wh && !report.now_wh)
        return refused(
            "this is no battery's report: paste the whole text of /sys/class/power_supply/BAT0/uevent, lines "
            "that begin with POWER_SUPPLY_",
            "battery report");
    return report;
}

std::vector<std::string> findings(const BatteryReport& report) {
    std::vector<std::string> list;
    if (report.health) {
        const std::string health =
            number_text("%.0f", 100.0 * *report.health) + " % of the capacity when new is left";
        list.push_back(*report.health < worn_health    ? health + ": worn, offer a new pack."
                       : *report.health < tired_health ? health + ": tired; say so on the sheet."
                                                       : health + ".");
    }
    if (report.cycles && *report.cycles > 0)
        list.push_back(integer_text(*report.cycles) + " full cycles" +
                       (*report.cycles > many_cycles ? ", more than packs are made for." : "."));
    if (report.limit_percent && *report.limit_percent < 100.0)
        list.push_back("Charging is set to stop at " + number_text("%.0f %%", *report.limit_percent) +
                       ": above that “not charging” is no fault.");
    if (report.celsius && (*report.celsius < cold_c || *report.celsius > hot_c))
        list.push_back("The pack has " + number_text("%.0f °C", *report.celsius) +
                       ": machines do not charge when it is too cold or too hot.");
    if (report.status == SupplyStatus::not_charging && !report.limit_percent && report.percent &&
        *report.percent < 95.0)
        list.emplace_back(
            "The machine has a charger and does not charge: look for a limit in its settings first.");
    return list;
}

}  // namespace eh
