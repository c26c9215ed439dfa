// SPDX-License-Identifier: GPL-3.0-or-later
// What the contacts of a plug in a port lead to.
#pragma once

#include <vector>

#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/machine_plan.h"

namespace eh {

struct PlugContact {
    int block = -1;      // of the plan: the receptacle, jack or inlet whose contact it is
    int plug_node = 0;   // of the circuit: the plug's half
    int board_node = 0;  // the board's half
};

// The contacts that a plug in this port closes, this way up; ground apart. Requires a port of the plan.
std::vector<PlugContact> plug_contacts(const MachinePlan& plan, int port, PlugSide side);

}  // namespace eh
