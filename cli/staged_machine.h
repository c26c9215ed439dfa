// SPDX-License-Identifier: GPL-3.0-or-later
// The machine that a command line names: topology, faults, part values, and how it stands.
#pragma once

#include <memory>

#include "cli/commands.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/machine_model.h"

namespace eh::cli {

struct StagedMachine {
    StagedMachine(const Knowledge& knowledge, const Topology& topology,
                  const std::vector<FaultInstance>& faults, const PartDraw& draw)
        : plan(knowledge, topology), model(plan, faults, draw) {}

    FittedPlan plan;
    MachineModel model;  // of that plan
    BenchConfiguration configuration;
};

// Refuses topologies, faults, parts and ports that are not known.
Result<std::shared_ptr<StagedMachine>> stage_machine(const Shop& shop, const SimulateOptions& options);

// The topology of that id; the refusal lists those that are known.
Result<const Topology*> topology_of(const Shop& shop, const std::string& id);

}  // namespace eh::cli
