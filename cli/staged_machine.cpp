// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/staged_machine.h"

#include "core/base/random.h"

namespace eh::cli {

Result<const Topology*> topology_of(const Shop& shop, const std::string& id) {
    const Topology* topology = shop.knowledge.find_topology(id);
    if (topology != nullptr)
        return topology;
    std::string known;
    for (const Topology& t : shop.knowledge.topologies)
        known += (known.empty() ? "" : ", ") + t.id;
    return refused("there is no topology “" + id + "”; known are: " + known, "ticket: topology");
}

Result<std::shared_ptr<StagedMachine>> stage_machine(const Shop& shop, const SimulateOptions& options) {
    const auto topology = topology_of(shop, options.topology);
    if (!topology)
        return topology.error();
    PartDraw draw;
    draw.seed = options.seed;
    draw.typical = options.seed == 0;
    draw.severity = Random(options.seed).uniform();
    for (const FaultInstance& fault : options.faults) {
        if (shop.knowledge.catalogue.find(fault.fault) == nullptr)
            return refused("there is no fault “" + fault.fault + "”", "--fault");
    }
    auto staged = std::make_shared<StagedMachine>(shop.knowledge, **topology, options.faults, draw);
    for (const FaultInstance& fault : options.faults) {
        if (staged->plan.find_block(fault.block) < 0)
            return refused("this machine has no part “" + fault.block + "”", "--fault");
    }
    staged->configuration = options.configuration;
    if (staged->configuration.port.empty())
        staged->configuration.port = (*topology)->ports.front().id;
    if (staged->plan.port_index(staged->configuration.port) < 0)
        return refused("this machine has no port “" + options.configuration.port + "”", "--port");
    return staged;
}

}  // namespace eh::cli
