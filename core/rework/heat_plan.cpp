// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/heat_plan.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "core/base/text.h"

namespace eh {
namespace {

constexpr double fastest_ramp = 3.0;       // K/s, J-STD-020
constexpr double longest_above_s = 150.0;  // above the liquidus, J-STD-020
constexpr double comfortable_ready_s = 90.0;
constexpr double comfortable_margin = 1.5;  // limit over ready
constexpr double close_k = 10.0;            // nearer than this to a limit is said
constexpr double cooling_s = 240.0;
constexpr double sample_s = 0.5;
constexpr double ramp_over_s = 10.0;  // a thin shell jumps in the first second; profiles mean longer rises

std::optional<double> earliest(std::initializer_list<std::optional<double>> moments) {
    std::optional<double> first;
    for (const auto& moment : moments)
        if (moment && (!first || *moment < *first))
            first = moment;
    return first;
}

struct Limits {
    std::optional<double> plastic;
    std::optional<double> body;
    std::optional<double> neighbour;  // softens

    [[nodiscard]] std::optional<double> first() const { return earliest({plastic, body, neighbour}); }
};

Limits limits_of(const HeatCourse& course, const HeatSetup& setup) {
    Limits limits;
    limits.plastic = course.reaches(HeatLump::plastic, setup.part.plastic_limit_c, longest_air_s);
    limits.body = course.reaches(HeatLump::body, setup.part.body_limit_c, longest_air_s);
    if (setup.neighbour)
        limits.neighbour = course.reaches(HeatLump::neighbour, setup.neighbour->solidus_c, longest_air_s);
    return limits;
}

void find_peaks(HeatPlan& plan, const HeatCourse& course, const HeatSetup& setup) {
    const auto peak = [&](HeatLump lump) {
        // Lumps behind others go on rising for a moment after the air is off.
        double highest = course.celsius(lump, 0.0);
        for (double t = plan.air_s; t <= plan.air_s + cooling_s; t += sample_s)
            highest = std::max(highest, course.celsius(lump, t));
        return highest;
    };
    plan.peak_joint_c = peak(HeatLump::joint);
    plan.peak_plastic_c = peak(HeatLump::plastic);
    plan.peak_body_c = peak(HeatLump::body);
    if (setup.neighbour)
        plan.peak_neighbour_c = peak(HeatLump::neighbour);
    for (double t = 0.0; t <= plan.air_s + cooling_s; t += sample_s)
        if (course.celsius(HeatLump::joint, t) >= setup.liquidus_c)
            plan.above_liquidus_s += sample_s;
    for (double t = 0.0; t <= plan.air_s; t += sample_s)
        plan.steepest_k_per_s =
            std::max(plan.steepest_k_per_s,
                     (course.celsius(HeatLump::body, t + ramp_over_s) - course.celsius(HeatLump::body, t)) /
                         ramp_over_s);
}

void add(HeatPlan& plan, HeatWeight weight, std::string says) {
    plan.notes.push_back({weight, std::move(says)});
}

void judge_lifting(HeatPlan& plan, const HeatSetup& setup) {
    if (!plan.lift_s) {
        add(plan, HeatWeight::problem,
            "The joint does not become liquid within " + whole_text(longest_air_s) +
                " s: it would settle near " + whole_text(plan.peak_joint_c) + " °C and needs " +
                whole_text(setup.liquidus_c + lift_above_k) +
                ". Warm the board from below, take hotter or more air, or bring leaded solder in first.");
        return;
    }
    if (plan.air_s < *plan.lift_s)
        add(plan, HeatWeight::problem,
            "The air is off after " + whole_text(plan.air_s) + " s, before the joint is liquid everywhere (" +
                whole_text(*plan.lift_s) + " s): pulling now tears pads.");
}

void judge_plastic(HeatPlan& plan, const HeatSetup& setup) {
    const std::string name = setup.part.plastic_name;
    if (plan.plastic_softens_s && (!plan.lift_s || *plan.plastic_softens_s < *plan.lift_s))
        add(plan, HeatWeight::problem,
            "The " + name + " comes to " + whole_text(setup.part.plastic_limit_c) + " °C after " +
                whole_text(*plan.plastic_softens_s) + " s, before the joint can be lifted.");
    else if (plan.peak_plastic_c > setup.part.plastic_limit_c)
        add(plan, HeatWeight::problem,
            "The " + name + " peaks at " + whole_text(plan.peak_plastic_c) + " °C; it stands " +
                whole_text(setup.part.plastic_limit_c) + ". Take the air away sooner.");
    else if (plan.peak_plastic_c > setup.part.plastic_limit_c - close_k)
        add(plan, HeatWeight::note,
            "The " + name + " comes within " + whole_text(close_k) + " K of what it stands.");
    if (setup.part.plastic_name != "chip" && plan.peak_body_c <= setup.part.body_limit_c)
        return;
    if (plan.peak_body_c > setup.part.body_limit_c)
        add(plan, HeatWeight::problem,
            "The package peaks at " + whole_text(plan.peak_body_c) + " °C; its class ends at " +
                whole_text(setup.part.body_limit_c) + " °C (J-STD-020).");
}

void judge_neighbour(HeatPlan& plan, const HeatSetup& setup) {
    if (!setup.neighbour)
        return;
    const std::string shield =
        setup.neighbour->shielded ? "" : " Cover it with foil tape, or turn the air so that it blows away.";
    if (plan.peak_neighbour_c >= setup.neighbour->liquidus_c)
        add(plan, HeatWeight::problem,
            "The neighbour's joints become liquid (" + whole_text(plan.peak_neighbour_c) +
                " °C): the part beside floats." + shield);
    else if (plan.peak_neighbour_c >= setup.neighbour->solidus_c)
        add(plan, HeatWeight::problem,
            "The neighbour's joints begin to soften (" + whole_text(plan.peak_neighbour_c) + " °C)." +
                shield);
    else if (plan.peak_neighbour_c >= setup.neighbour->solidus_c - close_k)
        add(plan, HeatWeight::note,
            "The neighbour's joints come to " + whole_text(plan.peak_neighbour_c) + " °C, close to melting." +
                shield);
}

void judge_profile(HeatPlan& plan, const HeatSetup& setup) {
    if (plan.above_liquidus_s > longest_above_s)
        add(plan, HeatWeight::note,
            "The joint stays liquid for " + whole_text(plan.above_liquidus_s) +
                " s; profiles end at 150 s (J-STD-020): pads come loose and the joint turns brittle.");
    if (plan.steepest_k_per_s > fastest_ramp)
        add(plan, HeatWeight::note,
            "The part warms by up to " + whole_text(plan.steepest_k_per_s) +
                " K a second; profiles allow 3 (J-STD-020): ceramic capacitors crack. Begin from farther "
                "away" +
                (setup.preheat_c ? "." : ", or preheat."));
    if (plan.lift_s && !setup.preheat_c && *plan.lift_s > comfortable_ready_s)
        add(plan, HeatWeight::note,
            "It takes " + whole_text(*plan.lift_s) +
                " s without a preheater; warming the board to 100 °C from "
                "below shortens that and spares the pads.");
}

}  // namespace

Result<HeatPlan> plan_heat(const HeatSetup& setup) {
    if (auto checked = check_heat_setup(setup); !checked)
        return checked.error();
    HeatPlan plan;
    const HeatCourse lasting(setup, longest_air_s);
    plan.board_at_start_c = lasting.celsius(HeatLump::board, 0.0);
    plan.melts_s = lasting.reaches(HeatLump::joint, setup.solidus_c, longest_air_s);
    plan.liquid_s = lasting.reaches(HeatLump::joint, setup.liquidus_c, longest_air_s);
    plan.lift_s = lasting.reaches(HeatLump::joint, setup.liquidus_c + lift_above_k, longest_air_s);
    const Limits limits = limits_of(lasting, setup);
    plan.plastic_softens_s = limits.plastic;
    plan.body_limit_s = limits.body;
    plan.neighbour_softens_s = limits.neighbour;
    if (setup.neighbour)
        plan.neighbour_floats_s =
            lasting.reaches(HeatLump::neighbour, setup.neighbour->liquidus_c, longest_air_s);
    plan.air_s = setup.air_s.value_or(plan.lift_s ? *plan.lift_s + lifting_s : longest_air_s);
    find_peaks(plan, HeatCourse(setup, plan.air_s), setup);
    judge_lifting(plan, setup);
    judge_plastic(plan, setup);
    judge_neighbour(plan, setup);
    plan.possible =
        plan.notes.empty() || std::none_of(plan.notes.begin(), plan.notes.end(),
                                           [](const auto& n) { return n.weight == HeatWeight::problem; });
    judge_profile(plan, setup);
    std::stable_sort(plan.notes.begin(), plan.notes.end(),
                     [](const HeatNote& a, const HeatNote& b) { return a.weight > b.weight; });
    return plan;
}

std::vector<HeatWindowPoint> heat_window(const HeatSetup& setup, double least_c, double most_c, int count) {
    assert(count >= 2);
    std::vector<HeatWindowPoint> window;
    HeatSetup tried = setup;
    for (int i = 0; i < count; ++i) {
        tried.air.set_c = least_c + (most_c - least_c) * i / (count - 1);
        const HeatCourse course(tried, longest_air_s);
        HeatWindowPoint point;
        point.set_c = tried.air.set_c;
        point.ready_s = course.reaches(HeatLump::joint, setup.liquidus_c + lift_above_k, longest_air_s);
        point.limit_s = limits_of(course, tried).first();
        window.push_back(point);
    }
    return window;
}

std::optional<double> best_air_c(const std::vector<HeatWindowPoint>& window) {
    std::optional<double> best;
    double best_margin = 1.0;
    for (const HeatWindowPoint& point : window) {
        if (!point.ready_s)
            continue;
        const double margin =
            point.limit_s.value_or(2.0 * longest_air_s) / std::max(1.0, *point.ready_s + lifting_s);
        if (*point.ready_s <= comfortable_ready_s && margin >= comfortable_margin)
            return point.set_c;
        if (margin > best_margin) {
            best_margin = margin;
            best = point.set_c;
        }
    }
    return best;
}

}  // namespace eh
