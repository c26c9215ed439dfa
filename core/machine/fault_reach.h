// Whether a fault can show at all in a configuration; where it cannot, the machine behaves as a sound one.
#pragma once

#include "core/machine/bench_configuration.h"
#include "core/machine/fault.h"
#include "core/machine/machine_plan.h"

namespace eh {

// False only when the fault changes nothing in that configuration: its part is removed or replaced, the
// charger or lead it sits in is not used, or all it changes is a contact that no plug touches. `powered` is
// false for ohms, where states and words play no role. Requires a block of the plan and a fault of its
// catalogue.
bool fault_can_show(const MachinePlan& plan, const FaultInstance& fault,
                    const BenchConfiguration& configuration, bool powered);

}  // namespace eh
