// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/other_makers.h"

#include <algorithm>
#include <cmath>

#include "core/base/random.h"
#include "core/machine/model/fault_reach.h"

namespace eh {

Knowledge with_alternatives_left_out(const Knowledge& knowledge, std::uint64_t seed) {
    constexpr double share_of_habits = 1.0 / 3.0;
    Random random(seed);
    Knowledge cut = knowledge;
    const auto certain = static_cast<std::size_t>(random.below(static_cast<int>(habit_count)));
    for (std::size_t habit = 0; habit < habit_count; ++habit) {
        const bool chosen = random.uniform() < share_of_habits;
        const bool nobody_has_it = random.uniform() < 0.5;
        if (chosen || habit == certain)
            cut.variety.habit_shares[habit] = nobody_has_it ? 0.0 : 1.0;
    }
    return cut;
}

NetFactors drawn_nets(const MachinePlan& plan, const std::vector<FaultInstance>& faults, std::uint64_t seed) {
    constexpr double furthest = 2.0;  // spreads: makers' ranges have ends
    Random random(seed);
    NetFactors factors;
    factors.volts.reserve(plan.net_nodes.size());
    factors.ohms.reserve(plan.net_nodes.size());
    for (std::size_t n = 0; n < plan.net_nodes.size(); ++n) {
        const NetVariety& variety = plan.net_variety[n];
        const double volts = std::clamp(random.normal(), -furthest, furthest);
        const double ohms = std::clamp(random.normal(), -furthest, furthest);
        const bool touched = std::any_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
            return fault_touches(plan, fault, plan.net_nodes[n]);
        });
        factors.volts.push_back(touched ? 1.0 : std::max(0.1, 1.0 + variety.volts_share * volts));
        factors.ohms.push_back(touched ? 1.0 : std::exp(variety.ohms_ln * ohms));
    }
    return factors;
}

}  // namespace eh
