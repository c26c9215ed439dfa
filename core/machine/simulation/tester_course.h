// SPDX-License-Identifier: GPL-3.0-or-later
// The charger and its lead at a load tester, without the machine.
#pragma once

#include "core/machine/simulation/course.h"

namespace eh {

// What the charger does from plugging in on: volts as soon as the tester's Rd is seen, the contract that the
// machine would want, then the load, which is 0.9 of the amps that the charger says it gives there (common
// practice) or none. A charger that lets go under it retries or latches as its make does. Sets the model up.
// Requires a configuration with a tester and a port of the plan. solver_failed where no point was found.
Course run_at_tester(MachineModel& model, const BenchConfiguration& configuration, DcSolver& solver);

}  // namespace eh
