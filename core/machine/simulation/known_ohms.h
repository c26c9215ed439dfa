// SPDX-License-Identifier: GPL-3.0-or-later
// Resistances to ground that were measured on sound machines of a kind, put into its plan.
#pragma once

#include "core/machine/model/machine_plan.h"

namespace eh {

// Changes the resistors to ground at each net whose ohms are known (Net::known_ohms) until a machine of
// typical parts, off and without battery, shows those ohms there: all of a net's by one factor, which is
// found by repeated measuring. Their spread becomes that of one machine to the next of its kind. A net that
// other parts already make lower than its known ohms, or that has no resistor of its own, stays as near as it
// gets; known_ohms_misses() tells.
void fit_known_ohms(MachinePlan& plan);

// The plan of a machine, with the ohms that are known of its kind.
class FittedPlan : public MachinePlan {
  public:
    // Requires a topology that parse_topology accepted against this knowledge; both must outlive the plan.
    FittedPlan(const Knowledge& knowledge, const Topology& topology) : MachinePlan(knowledge, topology) {
        fit_known_ohms(*this);
    }
};

// Nets (indices) whose ohms a machine of typical parts does not show within a tenth.
std::vector<int> known_ohms_misses(const MachinePlan& plan);

}  // namespace eh
