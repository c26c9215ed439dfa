// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/battery/charging_proof.h"

#include <algorithm>
#include <cmath>

#include "core/base/text.h"

namespace eh {
namespace {

constexpr double two_sided = 1.959964;  // normal quantile of 97.5 %
constexpr double clear_sigmas = 3.0;
constexpr double full_within_cell = 0.02;  // volts of a cell
constexpr double little_share = 0.05;      // of the capacity in an hour: a full pack takes less
constexpr double least_surplus_watts = 2.0;
constexpr double surplus_share = 0.1;   // of the machine's own watts, which wander
constexpr double expected_share = 0.3;  // of the capacity in an hour, where watts are not known
constexpr double usual_spacing_s = 10.0;
constexpr double at_limit = 0.04;  // of the charge state
constexpr double unplug_within_s = 90.0;

struct Line {
    double slope = 0.0;  // volts a second
    double sigma = 0.0;
    double spacing_s = usual_spacing_s;
    double length_s = 0.0;
};

Line fit(const std::vector<BatteryVolts>& readings, double sigma_volts) {
    double mean_t = 0.0;
    double mean_v = 0.0;
    for (const BatteryVolts& r : readings) {
        mean_t += r.t_s;
        mean_v += r.volts;
    }
    const auto n = static_cast<double>(readings.size());
    mean_t /= n;
    mean_v /= n;
    double tt = 0.0;
    double tv = 0.0;
    for (const BatteryVolts& r : readings) {
        tt += (r.t_s - mean_t) * (r.t_s - mean_t);
        tv += (r.t_s - mean_t) * (r.volts - mean_v);
    }
    Line line;
    line.length_s = readings.back().t_s - readings.front().t_s;
    line.spacing_s = line.length_s / std::max(1.0, n - 1.0);
    if (tt > 0.0) {
        line.slope = tv / tt;
        line.sigma = sigma_volts / std::sqrt(tt);
    }
    return line;
}

// The last readings in a row with the charger in; those before an unplugging where it is out now.
std::vector<BatteryVolts> plugged_run(const std::vector<BatteryVolts>& readings) {
    auto end = readings.end();
    while (end != readings.begin() && !std::prev(end)->charger_in)
        --end;
    auto begin = end;
    while (begin != readings.begin() && std::prev(begin)->charger_in)
        --begin;
    return {begin, end};
}

// The last step from plugged to unplugged.
std::optional<double> unplug_step(const std::vector<BatteryVolts>& readings) {
    for (std::size_t i = readings.size(); i-- > 1;)
        if (!readings[i].charger_in && readings[i - 1].charger_in &&
            readings[i].t_s - readings[i - 1].t_s <= unplug_within_s)
            return readings[i - 1].volts - readings[i].volts;
    return std::nullopt;
}

std::optional<double> last_watts(const std::vector<BatteryVolts>& readings) {
    for (auto r = readings.rbegin(); r != readings.rend(); ++r)
        if (r->charger_in && r->input_watts)
            return r->input_watts;
    return std::nullopt;
}

void say(ChargingVerdict& verdict, const ChargingFacts& facts) {
    const std::string slope = number_text("%+.1f mV a minute", 1000.0 * verdict.slope_v_a_min);
    const std::string charge = number_text("%.0f %%", 100.0 * verdict.charge_state);
    switch (verdict.state) {
        case ChargingState::charging:
            verdict.says =
                "It charges: " + slope +
                (verdict.pack_watts ? ", " + number_text("%.0f W", *verdict.pack_watts) + " go into the pack"
                                    : std::string()) +
                (verdict.step_clear
                     ? ", and the volts fall by " + number_text("%.0f mV", 1000.0 * *verdict.step_volts) +
                           " on unplugging"
                     : std::string()) +
                ". At about " + charge + ".";
            break;
        case ChargingState::rising_only:
            verdict.says =
                "The volts rise (" + slope +
                "), but a pack also relaxes upward after a load. Unplug the charger for ten seconds with the "
                "machine off, or note the input watts.";
            break;
        case ChargingState::full:
            verdict.says = "Full: " + number_text("%.2f V", facts.pack.full_volts()) +
                           " are its full volts, and little goes in.";
            break;
        case ChargingState::limited:
            verdict.says = "It stands at about " + charge + ", where a setting stops the charge. No fault.";
            break;
        case ChargingState::not_charging:
            verdict.says = "It does not charge: " + slope + " at about " + charge + ", full would be " +
                           number_text("%.2f V", facts.pack.full_volts()) + ".";
            break;
        case ChargingState::too_early:
            verdict.says =
                verdict.wait_s > 0.0
                    ? "Too early to tell: go on for " + number_text("%.0f s", verdict.wait_s) +
                          " more with this meter's last digit."
                    : std::string("Too early to tell: take at least two readings with the charger in.");
            break;
    }
}

}  // namespace

std::string describe(ChargingState state) {
    switch (state) {
        case ChargingState::too_early:
            return "too early to tell";
        case ChargingState::charging:
            return "charging";
        case ChargingState::rising_only:
            return "rising, not proven";
        case ChargingState::full:
            return "full";
        case ChargingState::limited:
            return "limited by a setting";
        case ChargingState::not_charging:
            return "not charging";
    }
    return {};
}

double seconds_to_tell(double slope, double sigma, double every_s) {
    return std::cbrt(12.0 * two_sided * two_sided * sigma * sigma * every_s / (slope * slope));
}

ChargingVerdict judge_charging(const ChargingFacts& facts, const std::vector<BatteryVolts>& readings) {
    ChargingVerdict verdict;
    const double sigma = 0.5 * facts.resolution_volts;
    const std::vector<BatteryVolts> run = plugged_run(readings);
    if (const auto input = last_watts(readings); input && facts.machine_watts)
        verdict.pack_watts = std::max(0.0, *input - *facts.machine_watts);
    const double own = facts.machine_watts.value_or(0.0);
    const bool surplus =
        verdict.pack_watts && *verdict.pack_watts > std::max(least_surplus_watts, surplus_share * own);
    verdict.step_volts = unplug_step(readings);
    verdict.step_clear = verdict.step_volts && *verdict.step_volts > clear_sigmas * std::sqrt(2.0) * sigma;
    verdict.pack_ohms = facts.pack.ohms();
    if (verdict.step_clear && verdict.pack_watts && *verdict.pack_watts > least_surplus_watts) {
        // On unplugging the current turns from what went in to what the machine takes.
        const double turned = (*verdict.pack_watts + (facts.machine_off ? 0.0 : own)) / readings.back().volts;
        verdict.pack_ohms =
            std::clamp(*verdict.step_volts / turned, 0.2 * facts.pack.ohms(), 5.0 * facts.pack.ohms());
    }
    if (!readings.empty()) {
        const double volts = run.empty() ? readings.back().volts : run.back().volts;
        const double amps = verdict.pack_watts.value_or(0.0) / volts;
        verdict.charge_state =
            charge_state(facts.pack, volts - (run.empty() ? 0.0 : amps * verdict.pack_ohms));
    }
    if (run.size() < 2) {
        say(verdict, facts);
        return verdict;
    }
    const Line line = fit(run, sigma);
    verdict.slope_v_a_min = 60.0 * line.slope;
    verdict.slope_low = 60.0 * (line.slope - two_sided * line.sigma);
    verdict.slope_high = 60.0 * (line.slope + two_sided * line.sigma);
    // What the pack's own curve lets expect of the charge that goes in.
    const double amps = verdict.pack_watts && surplus ? *verdict.pack_watts / run.back().volts
                                                      : expected_share * facts.pack.capacity_ah();
    const double expected =
        rest_slope(facts.pack, verdict.charge_state) * amps / (facts.pack.capacity_ah() * hour_s);
    verdict.wait_s =
        std::max(0.0, seconds_to_tell(expected, sigma, std::max(1.0, line.spacing_s)) - line.length_s);
    const bool rising = verdict.slope_low > 0.0;
    const bool flat = verdict.slope_high < 60.0 * 0.5 * expected;
    const bool at_full =
        run.back().volts >= facts.pack.full_volts() - full_within_cell * facts.pack.in_series;
    const bool little = !verdict.pack_watts || *verdict.pack_watts < little_share * facts.pack.capacity_wh;
    const bool stands_at_limit = facts.limit && std::abs(verdict.charge_state - *facts.limit) <= at_limit;
    if (at_full && little)
        verdict.state = ChargingState::full;
    else if (rising)
        verdict.state = surplus || (verdict.step_clear && facts.machine_off) ? ChargingState::charging
                                                                             : ChargingState::rising_only;
    else if (flat && verdict.wait_s <= 0.0)
        verdict.state = stands_at_limit && !surplus ? ChargingState::limited : ChargingState::not_charging;
    if (verdict.state != ChargingState::too_early)
        verdict.wait_s = 0.0;
    say(verdict, facts);
    return verdict;
}

}  // namespace eh
