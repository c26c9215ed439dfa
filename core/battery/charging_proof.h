// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a battery charges, from its volts, the step on unplugging, and the watts that go in.
//
// Rising volts alone do not prove it: a pack relaxes upward after a load is taken off.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/battery/pack.h"

namespace eh {

struct BatteryVolts {
    double t_s = 0.0;  // rising from reading to reading
    double volts = 0.0;
    bool charger_in = true;
    std::optional<double> input_watts;  // by the inline meter, while the charger is in
    friend bool operator==(const BatteryVolts&, const BatteryVolts&) = default;
};

enum class ChargingState {
    too_early,     // the readings cannot tell yet
    charging,      // rising, and the watts or the step say why
    rising_only,   // rising, but it may be relaxing
    full,          // at its full volts, little goes in
    limited,       // stands at the charge where a setting stops it
    not_charging,  // does not rise though it could
};
// For people, in small letters: "charging", "full".
std::string describe(ChargingState state);

struct ChargingFacts {
    Pack pack;
    double resolution_volts = 0.01;  // last digit of the voltmeter
    std::optional<double>
        machine_watts;  // that it takes itself: idle, from the model or by measuring when full
    bool machine_off = false;
    std::optional<double> limit;  // charge state where a setting stops it, 0 to 1
};

struct ChargingVerdict {
    ChargingState state = ChargingState::too_early;
    double slope_v_a_min = 0.0;  // of the readings with charger since it was last plugged in
    double slope_low = 0.0;      // 95 % interval
    double slope_high = 0.0;
    std::optional<double> step_volts;  // that it fell by on unplugging
    bool step_clear = false;           // more than the meter's digits make
    std::optional<double> pack_watts;  // input less the machine's own
    double pack_ohms = 0.0;            // by the step and the watts where both are known, else as the pack's
    double charge_state = 0.0;         // by the last volts, less what the charge current adds
    double wait_s = 0.0;               // until a rise as expected could be told from none; 0: it can be
    std::string says;
};

// The meter's error of a reading is taken as half its last digit (one sigma), which covers its jitter. Least
// squares of volts over time; charging needs a rise whose 95 % interval lies above 0, and either watts beyond
// the machine's own, or a clear step on unplugging with the machine off (with it on, the load takes the volts
// down too). Requires readings in the order of time; with fewer than two it is too early.
ChargingVerdict judge_charging(const ChargingFacts& facts, const std::vector<BatteryVolts>& readings);

// Seconds of readings every `every_s` until a slope of `volts_a_second` is told from none at 95 %:
// T = (12 * 1.96^2 * sigma^2 * every / slope^2)^(1/3), for evenly spaced readings.
double seconds_to_tell(double volts_a_second, double sigma_volts, double every_s);

}  // namespace eh
