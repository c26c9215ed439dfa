// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/battery/charge_course.h"

#include <algorithm>
#include <cmath>

namespace eh {
namespace {

constexpr int steps = 2000;         // of charge state, each a two-hundredth of a percent of the usual course
constexpr double usual_rate = 0.5;  // of the capacity in an hour

struct Flow {
    double amps = 0.0;
    double volts = 0.0;
    bool held = false;  // at the full volts
};

// What flows at this charge state.
Flow flow_at(const ChargeSetup& setup, double most_amps, double state) {
    const double rest = rest_volts(setup.pack, state);
    const double ohms = setup.pack.ohms();
    // Watts limit: I (rest + I R) = P.
    const double by_watts = (-rest + std::sqrt(rest * rest + 4.0 * ohms * setup.watts)) / (2.0 * ohms);
    const double wanted = std::min(most_amps, by_watts);
    const double held = (setup.pack.full_volts() - rest) / ohms;
    if (held <= wanted)
        return {std::max(0.0, held), setup.pack.full_volts(), true};
    return {wanted, rest + wanted * ohms, false};
}

Outcome check(const ChargeSetup& setup) {
    if (!(setup.charge_state >= 0.0 && setup.charge_state <= 1.0))
        return refused("a charge state lies between 0 and 100 %", "charge state");
    if (!(setup.stop_at > 0.0 && setup.stop_at <= 1.0))
        return refused("a limit lies between 0 and 100 %", "limit");
    if (!(setup.watts > 0.0 && setup.watts < 1000.0))
        return refused("nothing charges without watts", "watts");
    if (!(setup.pack.in_series >= 1 && setup.pack.in_series <= 8 && setup.pack.capacity_wh > 0.1 &&
          setup.pack.capacity_wh < 300.0 && setup.pack.ohms_a_cell > 0.0))
        return refused("a pack has 1 to 8 cells in series and at most 300 Wh", "pack");
    if (!(setup.end_share > 0.0 && setup.end_share < 1.0))
        return refused("the end current is a share of the capacity", "end");
    return Done{};
}

}  // namespace

Result<ChargeCourse> charge_course(const ChargeSetup& setup) {
    if (auto checked = check(setup); !checked)
        return checked.error();
    const double capacity = setup.pack.capacity_ah();
    const double most_amps = setup.most_amps > 0.0 ? setup.most_amps : usual_rate * capacity;
    const double end_amps = setup.end_share * capacity;
    ChargeCourse course;
    double t = 0.0;
    const double step = 1.0 / steps;
    double state = setup.charge_state;
    Flow now = flow_at(setup, most_amps, state);
    course.points.push_back({t, state, now.volts, now.amps});
    while (state < setup.stop_at && now.amps > end_amps) {
        const double next = std::min(setup.stop_at, state + step);
        const Flow then = flow_at(setup, most_amps, next);
        if (then.amps <= 0.0)
            break;
        // Held current falls almost linearly with the charge: the mean of 1/I over the step is logarithmic.
        const double inverse = std::abs(now.amps - then.amps) < 1e-9
                                   ? 1.0 / now.amps
                                   : std::log(now.amps / then.amps) / (now.amps - then.amps);
        double part = 1.0;
        if (then.amps < end_amps)
            part = (now.amps - end_amps) / (now.amps - then.amps);
        const double takes =
            part < 1.0 ? (next - state) * capacity * std::log(now.amps / end_amps) / (now.amps - then.amps)
                       : (next - state) * capacity * inverse;
        t += takes * hour_s;
        if (then.held)
            course.constant_volts_s += takes * hour_s;
        state += part * (next - state);
        now = then;
        course.points.push_back({t, state, now.volts, std::max(now.amps, part < 1.0 ? end_amps : 0.0)});
        if (part < 1.0)
            break;
    }
    course.total_s = t;
    return course;
}

Result<ChargeTime> time_to_full(const ChargeSetup& setup) {
    const auto expected = charge_course(setup);
    if (!expected)
        return expected.error();
    ChargeTime time{expected->total_s, expected->total_s, expected->total_s};
    for (const double capacity : {0.9, 1.1})
        for (const double ohms : {0.5, 2.0})
            for (const double watts : {0.9, 1.1}) {
                ChargeSetup corner = setup;
                corner.pack.capacity_wh *= capacity;
                corner.pack.ohms_a_cell *= ohms;
                corner.watts *= watts;
                if (const auto course = charge_course(corner)) {
                    time.least_s = std::min(time.least_s, course->total_s);
                    time.most_s = std::max(time.most_s, course->total_s);
                }
            }
    return time;
}

std::optional<double> behind_s(const ChargeCourse& course, double t_s, double state) {
    const auto& points = course.points;
    if (points.size() < 2 || state < points.front().charge_state || state > points.back().charge_state)
        return std::nullopt;
    const auto after = std::lower_bound(points.begin() + 1, points.end() - 1, state,
                                        [](const ChargePoint& p, double s) { return p.charge_state < s; });
    const auto before = std::prev(after);
    const double width = after->charge_state - before->charge_state;
    const double t = width <= 0.0
                         ? before->t_s
                         : before->t_s + (state - before->charge_state) / width * (after->t_s - before->t_s);
    return t_s - t;
}

}  // namespace eh
