// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

#include "core/machine/model/machine_plan.h"

namespace eh {

// The index of a net among topology.nets, as plans and views count them; -1 where the machine has none of
// that id.
[[nodiscard]] int net_index(const Topology& topology, const std::string& id);

// The index of the net at a node of the circuit; -1 where the topology names none there, and for ground.
[[nodiscard]] int net_at_node(const MachinePlan& plan, int node);

}  // namespace eh
