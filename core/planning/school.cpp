// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/school.h"

namespace eh {
namespace {

constexpr double school_factor = 2.5;    // how much more an act of the liked kind counts
constexpr double outside_factor = 2.0;   // estimate
constexpr double strained_factor = 0.5;  // estimate

bool likes(School school, const NextAct& act) {
    switch (school) {
        case School::outside_in:
            return !act.configuration.case_open;
        case School::ohms_first:
            return act.reading == ReadingKind::net_ohms;
        case School::thermal_first:
            return act.reading == ReadingKind::hot_part || act.reading == ReadingKind::injection;
        case School::none:
            break;
    }
    return false;
}

}  // namespace

double order_factor(const NextAct& act, const BenchConfiguration& now, School school, bool power_strains) {
    const bool liked = likes(school, act);
    if (power_strains && feeds_machine(act.configuration) && !is_by_eye(act.reading))
        return strained_factor * (liked ? school_factor : 1.0);
    // Signs of life are noticed in passing: they are no step of their own on the way in.
    const bool outside = !now.case_open && !act.configuration.case_open && act.reading != ReadingKind::sign;
    return (liked ? school_factor : 1.0) * (outside ? outside_factor : 1.0);
}

}  // namespace eh
