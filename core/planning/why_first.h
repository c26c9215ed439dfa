// SPDX-License-Identifier: GPL-3.0-or-later
// Why what stands first stands first, in one line for the technician.
#pragma once

#include <string>

#include "core/planning/next_act.h"

namespace eh {

// What the first act tells apart, and what speaks against the act that would tell most: minutes, or risk. Of
// a due repair: why nothing is read any more. Empty where there is no act.
std::string why_first(const NextStep& step, const MachinePlan& plan);

}  // namespace eh
