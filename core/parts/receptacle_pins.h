// SPDX-License-Identifier: GPL-3.0-or-later
// Which pad of a receptacle does what, and what is lost with it (data/rework/receptacle_pins.json).
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh {

enum class PinFunction { power_return, bus_power, cc, usb2, high_speed, side_band, anchor };
// For people.
std::string describe(PinFunction function);

struct ReceptaclePin {
    std::string name;  // A1 to B12
    PinFunction function = PinFunction::power_return;
    std::string signal;  // CC1, D+1, TX1+
    int plug_side = 0;   // 1 or 2: works for that side of the plug only; 0: both
};

struct ReceptaclePinMap {
    std::vector<ReceptaclePin> pins;
    double amps_a_contact = 1.25;  // that one power or ground contact carries

    // nullptr where there is no pin of this name.
    [[nodiscard]] const ReceptaclePin* find(const std::string& name) const;
};

// Reads the map; refused with file and field.
Result<ReceptaclePinMap> parse_receptacle_pins(const std::string& text, const std::string& file);

// What a receptacle still does without some of its pads.
struct PadLoss {
    double amps = 0.0;                    // that it carries
    bool charges_side[2] = {true, true};  // plug side 1 and 2
    bool usb2_side[2] = {true, true};
    bool high_speed_side[2] = {true, true};
    bool side_band = true;
    std::vector<std::string> rebuild;   // pads without which it does not charge as it should, in order
    std::vector<std::string> may_stay;  // pads that may stay lost, if the customer knows
    std::vector<std::string> says;      // sentences, gravest first
};

// Refuses pads that the map does not know. `fitted` lists the pads that this receptacle has (a 16-pin one has
// no high-speed pads); empty: all. `needed_amps` is what the machine's charger gives at most.
Result<PadLoss> judge_pads(const ReceptaclePinMap& map, const std::vector<std::string>& missing,
                           const std::vector<std::string>& fitted, double needed_amps);

}  // namespace eh
