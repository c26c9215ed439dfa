// SPDX-License-Identifier: GPL-3.0-or-later
// What a look over the whole board finds on machines with given faults. A flaw that a close look at its part
// would show is overlooked more often.
#pragma once

#include <vector>

#include "core/machine/model/fault_reach.h"
#include "core/readings/board_look_reading.h"

namespace eh {

// Share of the flaws seen closely that a look over the whole board finds, too (estimate; common practice
// holds that it finds most of what is burnt and half of the rest).
inline constexpr double found_looking_over = 0.6;

// Whether a part stands on the board or hangs on it, so that one who looks over the board sees it.
bool is_on_board(const PlanBlock& block);

// Probability that just this is found on a machine with these faults, as far as it differs from machine to
// machine: sound parts of which nothing is said count the same on all. Requires faults of the catalogue;
// parts that the plan does not have count for nothing.
double board_look_probability(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                              const std::vector<SeenPart>& found, const BenchConfiguration& configuration);

// Shares of the outcomes: nothing, then by block of the plan the part that is found first. Adds up to 1;
// flaws of sound parts are left out.
std::vector<double> board_look_shares(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                                      const BenchConfiguration& configuration);

}  // namespace eh
