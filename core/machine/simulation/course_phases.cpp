// SPDX-License-Identifier: GPL-3.0-or-later
// What the phases of a course come to.
#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>

#include "core/machine/simulation/course.h"

namespace eh {

bool holds_contract(const Phase& phase) {
    return phase.talk != NegotiationEnd::silent && phase.contract_volts > above_default_volts;
}

double contract_lasts_s(const Course& course, std::size_t phase) {
    double lasts_s = 0.0;
    // Once around is enough: what holds through a whole cycle holds for ever.
    for (std::size_t steps = 0; steps <= 2 * course.phases.size(); ++steps) {
        if (!holds_contract(course.phases[phase]))
            return lasts_s;
        lasts_s += course.phases[phase].duration_s;
        if (++phase == course.phases.size()) {
            if (!course.cycling)
                return lasts_s;
            phase = course.cycle_from;
        }
    }
    return std::numeric_limits<double>::infinity();
}

NegotiationEnd talk_of(const Course& course) {
    NegotiationEnd furthest = NegotiationEnd::silent;
    bool stood = false;
    for (std::size_t p = 0; p < course.phases.size(); ++p) {
        const Phase& phase = course.phases[p];
        const bool begins = holds_contract(phase) && (p == 0 || !holds_contract(course.phases[p - 1]));
        if (begins) {
            const double lasts_s = contract_lasts_s(course, p);
            stood = stood || lasts_s >= talk_after_s;
            // Accepted, but the volts collapsed before they were ready.
            if (lasts_s < talk_after_s)
                furthest = std::max(furthest, NegotiationEnd::unready);
        } else if (!holds_contract(phase) && phase.duration_s >= talk_after_s) {
            furthest = std::max(furthest, phase.talk);
        }
    }
    if (!stood)
        return furthest;
    const std::size_t first = course.cycling ? course.cycle_from : course.phases.size() - 1;
    const bool stands = std::all_of(course.phases.begin() + static_cast<std::ptrdiff_t>(first),
                                    course.phases.end(), holds_contract);
    return stands ? course.phases.back().talk : NegotiationEnd::torn;
}

namespace {

// A time of a cycle that repeats, within its first round.
double unwound_s(const Course& course, double t_s) {
    if (!course.cycling || course.period_s <= 0.0)
        return t_s;
    const double from_s = course.phases[course.cycle_from].start_s;
    return t_s > from_s ? from_s + std::fmod(t_s - from_s, course.period_s) : t_s;
}

}  // namespace

const Phase& phase_at(const Course& course, double t_s) {
    assert(!course.phases.empty());
    const auto after =
        std::upper_bound(course.phases.begin(), course.phases.end(), unwound_s(course, t_s),
                         [](double value, const Phase& phase) { return value < phase.start_s; });
    return after == course.phases.begin() ? course.phases.front() : *std::prev(after);
}

double phase_ends_s(const Course& course, double t_s) {
    const Phase& phase = phase_at(course, t_s);
    return t_s + (phase.start_s + phase.duration_s - unwound_s(course, t_s));
}

}  // namespace eh
