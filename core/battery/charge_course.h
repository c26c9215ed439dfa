// SPDX-License-Identifier: GPL-3.0-or-later
// How a pack charges: constant current or power first, constant volts then, and how long it takes.
#pragma once

#include <optional>
#include <vector>

#include "core/base/result.h"
#include "core/battery/pack.h"

namespace eh {

struct ChargeSetup {
    Pack pack;
    double charge_state = 0.2;  // at the start
    double most_amps = 0.0;     // into the pack; 0: half its capacity in an hour (common practice)
    double watts = 60.0;        // that are left for the pack, at most
    double stop_at = 1.0;       // charge state where a limit stops it
    double end_share = 0.05;    // of the capacity in an hour: below this current it counts as full
};

struct ChargePoint {
    double t_s = 0.0;
    double charge_state = 0.0;
    double volts = 0.0;  // at the pack's terminals
    double amps = 0.0;
};

struct ChargeCourse {
    std::vector<ChargePoint> points;
    double total_s = 0.0;           // to full, or to the limit
    double constant_volts_s = 0.0;  // of it, with held volts
};

// Integrates the charge in small steps of charge state: terminal volts are rest volts plus amps times ohms;
// held at the full volts, the current is what the ohms let through. Refuses states outside 0 to 1, watts and
// packs that cannot be, with the field.
Result<ChargeCourse> charge_course(const ChargeSetup& setup);

// Time to the end with a band: capacity within 10 %, ohms between half and twice, watts within 10 % (the
// usual uncertainty of an aged pack; estimates), quickest and slowest of the corners.
struct ChargeTime {
    double expected_s = 0.0;
    double least_s = 0.0;
    double most_s = 0.0;
};
Result<ChargeTime> time_to_full(const ChargeSetup& setup);

// How far a real course runs from the estimate: seconds that it is behind (> 0) at its last point, by charge
// state. None where the course does not reach that state.
std::optional<double> behind_s(const ChargeCourse& course, double t_s, double charge_state);

}  // namespace eh
