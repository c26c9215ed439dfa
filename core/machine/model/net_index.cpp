// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/net_index.h"

#include <algorithm>

namespace eh {

int net_index(const Topology& topology, const std::string& id) {
    const auto found = std::find_if(topology.nets.begin(), topology.nets.end(),
                                    [&](const Net& net) { return net.id == id; });
    return found == topology.nets.end() ? -1 : static_cast<int>(found - topology.nets.begin());
}

int net_at_node(const MachinePlan& plan, int node) {
    const auto found = std::find(plan.net_nodes.begin(), plan.net_nodes.end(), node);
    return node <= 0 || found == plan.net_nodes.end() ? -1 : static_cast<int>(found - plan.net_nodes.begin());
}

}  // namespace eh
