// SPDX-License-Identifier: GPL-3.0-or-later
// What it says of faults that a flaw was seen at one contact of an inlet. Internal to core/inference.
#pragma once

#include <vector>

#include "core/machine/model/machine_plan.h"
#include "core/readings/reading.h"

namespace eh {

// How much likelier than at any contact of the part it is, with these faults, that the flaw is seen at the
// one that the look names: four times in five at one that the part's own fault touches, else anywhere
// (estimate). 1 where the look names none or shows nothing, for faults of other parts and for those that sit
// at no contact; over all contacts of a part the mean is 1. Requires a look that fits the plan.
double contact_factor(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                      const LookReading& look, const BenchConfiguration& configuration);

// Whether that very contact was looked at before, on the same part and with the same parts fitted: then it is
// no news. Requires a look.
bool contact_was_seen(const std::vector<const Reading*>& earlier, const Reading& reading);

}  // namespace eh
