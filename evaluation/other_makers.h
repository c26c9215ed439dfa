// SPDX-License-Identifier: GPL-3.0-or-later
// Machines of makers that the reasoning does not know: what its library of designs lacks, and how one
// machine's nets differ from what its plan says.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/machine/model/machine_plan.h"

namespace eh {

// The knowledge with its library of designs cut down: of about a third of the habits, at least one, one of
// the two alternatives is left out, so that the reasoning takes all makers to do the same. Deterministic for
// a seed.
Knowledge with_alternatives_left_out(const Knowledge& knowledge, std::uint64_t seed);

// By net of the plan's topology: of its volts, and of its ohms to ground.
struct NetFactors {
    std::vector<double> volts;
    std::vector<double> ohms;
};

// As far as the library says that makers differ (MachinePlan::net_variety), up to two of its spreads; 1 where
// a fault changes the net's circuit. Requires faults of the plan. Deterministic for a seed.
NetFactors drawn_nets(const MachinePlan& plan, const std::vector<FaultInstance>& faults, std::uint64_t seed);

}  // namespace eh
