// SPDX-License-Identifier: GPL-3.0-or-later
// Which faults are in play in a configuration; where one is not, the machine behaves as a sound one.
#pragma once

#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/fault.h"
#include "core/machine/model/machine_plan.h"

namespace eh {

// Whether what was done to the machine has left the fault in it: its part not changed, or, for a fault of
// refitting, changed; no work done that is its remedy; and, for one that lasts until all power is cut, power
// not cut. `block` is the id of the part that it befalls.
bool still_there(const std::string& block, const FaultSpec& fault, const BenchConfiguration& configuration);

// Whether the part that the fault befalls stands in the machine and is used: the one that was there at the
// start, not removed, no known-good one lent in its place, and, for the customer's charger and lead, not
// swapped for the shop's; for the shop's instruments the usual ones; and the fault is still there.
bool part_in_play(const PlanBlock& block, const FaultSpec& fault, const BenchConfiguration& configuration);

// Whether a plug closes a contact of `block` that holds under `when`; true for conditions that no plug
// decides. `plugged_port` is the port that the charger is in, -1 for none.
bool plug_touches(ElementCondition when, const PlanBlock& block, int plugged_port, PlugSide side);

// False only when the fault changes nothing in that configuration: its part is removed or replaced, the
// charger or lead it sits in is not used, or all it changes is a contact that no plug touches. `powered` is
// false for ohms, where states and words play no role. Requires a block of the plan and a fault of its
// catalogue.
bool fault_can_show(const MachinePlan& plan, const FaultInstance& fault,
                    const BenchConfiguration& configuration, bool powered);

// Pairs of circuit nodes that change places when the plug in a port is turned over; none for plugs with one
// way in. Requires a port of the plan.
std::vector<std::pair<int, int>> plug_side_nodes(const MachinePlan& plan, int port);

// Whether a fault changes the circuit at a node.
bool fault_touches(const MachinePlan& plan, const FaultInstance& fault, int node);

// How a part looks with these faults in the machine: as its own fault that is in play makes it look, else as
// a sound part. Requires blocks of the plan and faults of its catalogue.
LookShares look_shares(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                       const std::string& block, const BenchConfiguration& configuration);

// Probability that what is measured through a part changes when it is pushed.
double push_probability(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                        const std::string& block, const BenchConfiguration& configuration);

// Whether it matters much how severe any of these faults is: of a short, of ohms in the way.
bool draws_severity(const FaultCatalogue& catalogue, const std::vector<FaultInstance>& faults);

// Whether a fault finds anything to change at a block of its kind: one whose shunts, series resistances and
// breaks all sit at pins and elements that the block does not have on this board is none. The drop-outs that
// go with them then are none either.
bool finds_a_place(const MachinePlan& plan, const PlanBlock& block, const FaultSpec& fault);

}  // namespace eh
