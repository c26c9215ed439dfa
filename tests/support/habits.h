// SPDX-License-Identifier: GPL-3.0-or-later
// Machines of known habits on the bench.
#pragma once

#include <vector>

#include "core/machine/simulation/machine_model.h"
#include "core/readings/reading.h"

namespace eh::test {

// What the bench shows of a machine of two ports with just these habits, all at typical values: the meter and
// the volts of its rails, at either port, with the battery in and out.
std::vector<Reading> readings_of(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                                 const ByHabit<bool>& habits);

}  // namespace eh::test
