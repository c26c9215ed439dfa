// SPDX-License-Identifier: GPL-3.0-or-later
// The charge that a job's battery log makes one expect, and how the readings run beside it.
#pragma once

#include <optional>
#include <vector>

#include "core/battery/battery_log.h"
#include "core/battery/charge_course.h"

namespace eh {

struct LogCourse {
    ChargeSetup setup;
    ChargeCourse course;         // from the first reading on; from a tenth where there is none
    ChargeTime time;             // to full, or to the limit
    std::vector<double> states;  // by reading: charge state that its volts say, 0 to 1
    // Seconds that the last reading under charge is behind the course (> 0) or ahead of it. None with fewer
    // than two readings: one without the charger only relaxes.
    std::optional<double> behind_s;
};

// Where nothing says what goes into the pack it is what chargers of the trade leave for it (estimate).
// Refused where nothing goes in, or the pack cannot be.
Result<LogCourse> log_course(const BatteryLog& log, const ChargingVerdict& verdict,
                             const std::vector<Chemistry>& chemistries);

}  // namespace eh
