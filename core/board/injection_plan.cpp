// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/injection_plan.h"

#include <algorithm>
#include <cmath>

#include "core/board/designator.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double exponent_of_rise = 0.44;
constexpr double exponent_of_area = 0.725;
constexpr double k_outside = 0.048;
constexpr double k_inside = 0.024;
constexpr double mm_a_mil = 0.0254;

constexpr double first_volts = 1.0;  // common practice: begin at a volt or less
constexpr double first_share = 0.5;  // of the net's own volts, where those are low
constexpr double first_limit_amps = 1.0;
constexpr double step_factor = 1.5;
constexpr double most_copper_kelvin = 20.0;  // beyond that the board is at risk before the short shows
constexpr double most_watts = 4.0;           // in one small part: it burns, and takes its pads along
constexpr double most_volts = 60.0;          // extra-low voltage, dc (IEC 61140, from memory)
constexpr double delicate_volts = 1.5;       // rails of processors and memories
constexpr double margin_on_limit = 1.25;
constexpr double agrees_factor = 1.6;
constexpr double steady_factor = 1.3;

double square_mils(double width_mm, double thickness_um) {
    return (width_mm / mm_a_mil) * (1e-3 * thickness_um / mm_a_mil);
}

// Kelvin a watt of a part on its board. Estimates: small parts lose their heat by their pads.
double kelvin_a_watt(SuspectKind kind) {
    switch (kind) {
        case SuspectKind::capacitor:
            return 90.0;
        case SuspectKind::protector:
            return 70.0;
        case SuspectKind::chip:
            return 40.0;
        case SuspectKind::receptacle:
            return 25.0;
        case SuspectKind::other:
            break;
    }
    return 60.0;
}

// With the volts set and the limit that is the smaller.
InjectionStep step_at(const InjectionQuestion& question, double volts, double limit_amps) {
    InjectionStep step;
    step.volts = volts;
    step.limit_amps = limit_amps;
    step.expected_amps = std::min(limit_amps, volts / (question.ohms + question.lead_ohms));
    step.expected_volts = step.expected_amps * question.ohms;
    step.watts = step.expected_amps * step.expected_volts;
    step.copper_kelvin = conductor_rise_kelvin(step.expected_amps, question.narrowest_mm, question.copper_um,
                                               question.copper_inside);
    return step;
}

double hottest_kelvin(const InjectionQuestion& question, double watts) {
    double most = question.suspects.empty() ? watts * kelvin_a_watt(SuspectKind::other) : 0.0;
    for (const std::string& part : question.suspects)
        most = std::max(most, watts * kelvin_a_watt(suspect_kind_of(part)));
    return most;
}

std::vector<std::string> cautions_of(const InjectionQuestion& question) {
    std::vector<std::string> cautions;
    cautions.emplace_back("Battery and charger disconnected, and no volts on the net before you begin.");
    cautions.emplace_back("Eye protection: a shorted part can burst.");
    if (question.net_volts <= delicate_volts)
        cautions.emplace_back("This rail feeds a processor or memory: never above its own " +
                              format_quantity(question.net_volts, Unit::volts) +
                              ", and only where its sound ohms are known.");
    if (question.net_volts > 20.0)
        cautions.emplace_back(
            "More than 20 V: keep the leads insulated; voltages up to 60 V can hurt on wet skin.");
    return cautions;
}

}  // namespace

double conductor_amps(double rise_kelvin, double width_mm, double thickness_um, bool inside) {
    return (inside ? k_inside : k_outside) * std::pow(rise_kelvin, exponent_of_rise) *
           std::pow(square_mils(width_mm, thickness_um), exponent_of_area);
}

double conductor_rise_kelvin(double amps, double width_mm, double thickness_um, bool inside) {
    const double amps_at_one_kelvin = conductor_amps(1.0, width_mm, thickness_um, inside);
    return std::pow(std::max(amps, 0.0) / amps_at_one_kelvin, 1.0 / exponent_of_rise);
}

SuspectKind suspect_kind_of(const std::string& part_name) {
    const std::string letters = designator_of(part_name);
    switch (letters.empty() ? '\0' : letters.front()) {
        case 'C':
            return SuspectKind::capacitor;
        case 'U':
        case 'Q':
            return SuspectKind::chip;
        case 'D':
        case 'T':
            return SuspectKind::protector;
        case 'J':
            return SuspectKind::receptacle;
        default:
            return SuspectKind::other;
    }
}

Result<InjectionPlan> plan_injection(const InjectionQuestion& question) {
    const bool numbers = question.net_volts > 0.0 && question.ohms > 0.0 && question.lead_ohms >= 0.0 &&
                         question.narrowest_mm > 0.0 && question.copper_um > 0.0 &&
                         question.supply_volts > 0.0 && question.supply_amps > 0.0 &&
                         std::isfinite(question.ohms);
    if (!numbers)
        return refused("enter the net's own volts, its ohms to ground, and what the supply can give",
                       "injection");
    if (question.net_volts > most_volts)
        return refused("this net carries more than 60 V: it is not fed from the bench", "injection");
    const double ceiling_volts = std::min(question.net_volts, question.supply_volts);
    constexpr double worth_it_kelvin = 0.02;  // a lock-in sees it
    const double most_possible =
        hottest_kelvin(question, ceiling_volts * ceiling_volts / (question.ohms + question.lead_ohms));
    if (most_possible < std::min(worth_it_kelvin, question.wanted_rise_kelvin))
        return refused(
            "at " + format_quantity(question.ohms, Unit::ohms) + " nothing gets warm within the net's " +
                format_quantity(question.net_volts, Unit::volts) +
                ": this is a leak, not a short; look for dirt and moisture, or measure volts under power",
            "injection");
    InjectionPlan plan;
    plan.cautions = cautions_of(question);
    double volts = std::min({first_volts, first_share * question.net_volts, question.supply_volts});
    double limit_amps = std::min(first_limit_amps, question.supply_amps);
    while (plan.ends_because.empty()) {
        const InjectionStep step = step_at(question, volts, limit_amps);
        // The first step is gentle by itself; the others end where something would suffer.
        if (!plan.steps.empty()) {
            if (step.copper_kelvin > most_copper_kelvin) {
                plan.ends_because = "more amps would heat the copper on the way by over 20 K";
                break;
            }
            if (step.watts > most_watts) {
                plan.ends_because = "more would burn the part, and the board under it";
                break;
            }
        }
        plan.steps.push_back(step);
        const bool limited = step.expected_amps >= limit_amps;
        if (hottest_kelvin(question, step.watts) >= question.wanted_rise_kelvin)
            plan.ends_because = "it is warm enough to be found";
        else if (!limited && volts >= ceiling_volts)
            plan.ends_because = volts >= question.net_volts ? "these are the net's own volts"
                                                            : "the supply gives no more volts";
        else if (limited && limit_amps >= question.supply_amps)
            plan.ends_because = "the supply gives no more amps";
        // Too little heat: the amps first where they bound it, else the volts.
        if (limited)
            limit_amps = std::min(question.supply_amps, step_factor * limit_amps);
        else
            volts = std::min(ceiling_volts, step_factor * volts);
        // The limit goes ahead of what is expected, so that a falling resistance is seen and not cut off.
        limit_amps =
            std::min(question.supply_amps, std::max(limit_amps, margin_on_limit * step.expected_amps));
    }
    const double watts = plan.steps.back().watts;
    for (const std::string& part : question.suspects)
        plan.heats.push_back({part, watts * kelvin_a_watt(suspect_kind_of(part))});
    std::stable_sort(plan.heats.begin(), plan.heats.end(),
                     [](const SuspectHeat& a, const SuspectHeat& b) { return a.kelvin > b.kelvin; });
    plan.reaches_wanted = hottest_kelvin(question, watts) >= question.wanted_rise_kelvin;
    return plan;
}

std::optional<InjectionCheck> check_injection(const std::vector<StepReading>& steps, double ohmmeter_ohms) {
    constexpr double least_amps = 1e-3;
    std::vector<double> ohms;
    for (const StepReading& step : steps)
        if (step.amps > least_amps && step.volts >= 0.0 && std::isfinite(step.volts) &&
            std::isfinite(step.amps))
            ohms.push_back(std::max(step.volts / step.amps, 1e-4));
    if (ohms.empty())
        return std::nullopt;
    InjectionCheck check;
    check.ohms = ohms.back();
    check.moved = ohms.back() / ohms.front();
    const double apart = ohms.front() / std::max(ohmmeter_ohms, 1e-4);
    check.agrees = apart < agrees_factor && apart > 1.0 / agrees_factor;
    const std::string now = format_quantity(check.ohms, Unit::ohms, 2);
    if (check.moved > 10.0)
        check.says = "It went up to " + now +
                     ": the short has opened, or the clip is off. Measure with the supply "
                     "off.";
    else if (check.moved < 1.0 / steady_factor)
        check.says = "It falls with volts and heat, to " + now +
                     ": a part that breaks down, a capacitor or a chip; "
                     "the ohmmeter sees less than the charger does.";
    else if (check.moved > steady_factor)
        check.says =
            "It rises with heat, to " + now + ": copper or a fuse that warms up, or a part about to open.";
    else if (!check.agrees)
        check.says = "The supply sees " + now + ", the ohmmeter " +
                     format_quantity(ohmmeter_ohms, Unit::ohms, 2) +
                     ": it breaks down with volts, or the clips are not where the probes were.";
    else
        check.says = "Steady at " + now + ", as by the ohmmeter.";
    return check;
}

}  // namespace eh
