// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/battery/log_course.h"

#include <algorithm>

namespace eh {
namespace {

constexpr double usual_charge_watts = 45.0;
constexpr double usual_start = 0.1;

// Volts under charge are more than at rest.
double state_of(const BatteryVolts& reading, const Pack& pack, const ChargingVerdict& verdict) {
    const double amps = reading.charger_in ? verdict.pack_watts.value_or(0.0) / reading.volts : 0.0;
    return charge_state(pack, reading.volts - amps * verdict.pack_ohms);
}

}  // namespace

Result<LogCourse> log_course(const BatteryLog& log, const ChargingVerdict& verdict,
                             const std::vector<Chemistry>& chemistries) {
    LogCourse of_log;
    ChargeSetup& setup = of_log.setup;
    setup.pack = facts_of(log, chemistries).pack;
    setup.pack.ohms_a_cell = verdict.pack_ohms / setup.pack.in_series;
    for (const BatteryVolts& reading : log.readings)
        of_log.states.push_back(state_of(reading, setup.pack, verdict));
    setup.charge_state = of_log.states.empty() ? usual_start : of_log.states.front();
    setup.watts = verdict.pack_watts.value_or(usual_charge_watts);
    // What goes in by the meter shows that the charger lets that much through.
    if (verdict.pack_watts)
        setup.most_amps = setup.pack.capacity_ah();
    setup.stop_at = log.limit.value_or(1.0);
    if (!(setup.watts > 0.0))
        return refused("nothing goes into the pack");
    auto course = charge_course(setup);
    if (!course)
        return course.error();
    const auto time = time_to_full(setup);
    if (!time)
        return time.error();
    of_log.course = std::move(course).value();
    of_log.time = *time;
    const auto last = std::find_if(log.readings.rbegin(), log.readings.rend(),
                                   [](const BatteryVolts& reading) { return reading.charger_in; });
    if (log.readings.size() >= 2 && last != log.readings.rend())
        of_log.behind_s = behind_s(of_log.course, last->t_s - log.readings.front().t_s,
                                   state_of(*last, setup.pack, verdict));
    return of_log;
}

}  // namespace eh
