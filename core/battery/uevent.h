// SPDX-License-Identifier: GPL-3.0-or-later
// What a machine says of its battery: the text of a Linux power_supply `uevent`.
//
// Units as the kernel documents them for the power_supply class: microvolts, microamps, micro-watt-hours and
// micro-amp-hours; percent; tenths of a degree Celsius; seconds. Here SI.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace eh {

enum class SupplyStatus { unknown, charging, discharging, not_charging, full };
// For people, in small letters.
std::string describe(SupplyStatus status);

struct BatteryReport {
    std::string name;
    std::string technology;  // as the kernel names it: Li-ion, LiFe ...
    SupplyStatus status = SupplyStatus::unknown;
    std::optional<double> volts;
    std::optional<double> design_volts;  // lowest by design, which machines give as their nominal volts
    std::optional<double> amps;          // magnitude
    std::optional<double> watts;         // magnitude; from volts and amps where it is not given
    std::optional<double> percent;
    std::optional<double> full_wh;    // now, when full
    std::optional<double> design_wh;  // when new
    std::optional<double> now_wh;
    std::optional<int> cycles;
    std::optional<double> limit_percent;  // charging stops here by setting
    std::optional<double> celsius;
    std::optional<double> health;      // full over design, 0 to 1.5
    std::vector<std::string> remarks;  // lines that could not be used, and why
};

// Reads the lines KEY=VALUE of the class; others are passed over. Amp-hours become watt-hours by the design
// volts, else by the volts now. A text with not one battery value is refused; a value that is no number, or
// that no notebook's battery has, is left out and remarked.
Result<BatteryReport> parse_uevent(std::string_view text);

// What the report says in words: health, cycles, what limits charging.
std::vector<std::string> findings(const BatteryReport& report);

}  // namespace eh
