// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/across.h"

#include <algorithm>

namespace eh {
namespace {

// The net of the topology at a node; -1: none.
int net_at(const MachinePlan& plan, int node) {
    const auto found = std::find(plan.net_nodes.begin(), plan.net_nodes.end(), node);
    return node <= 0 || found == plan.net_nodes.end() ? -1 : static_cast<int>(found - plan.net_nodes.begin());
}

}  // namespace

std::vector<AcrossPart> parts_measured_across(const MachinePlan& plan) {
    std::vector<AcrossPart> parts;
    for (const PlanElement& element : plan.elements) {
        const PlanBlock& block = plan.blocks[static_cast<std::size_t>(element.block)];
        const bool stands = element.type == ElementType::resistor && element.when == ElementCondition::always;
        if (!stands || block.is_outside() || block.kind->pinned_out)
            continue;
        const int net = net_at(plan, element.from);
        const int other = net_at(plan, element.to);
        const auto& nets = plan.topology().nets;
        if (net >= 0 && other >= 0 && net != other)
            parts.push_back({element.block,
                             nets[static_cast<std::size_t>(net)].id,
                             nets[static_cast<std::size_t>(other)].id,
                             {OffQuestion::Of::between_nets, net, other}});
    }
    return parts;
}

std::vector<AcrossPart> suspects_measured_across(const MachinePlan& plan, const Ranking& ranking) {
    constexpr double worth_a_reading = 0.02;
    std::vector<AcrossPart> parts = parts_measured_across(plan);
    std::erase_if(parts, [&](const AcrossPart& part) {
        const std::string& id = plan.blocks[static_cast<std::size_t>(part.block)].id;
        return suspicion_of(ranking, id) < worth_a_reading;
    });
    return parts;
}

}  // namespace eh
