// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/plug_contacts.h"

#include "core/machine/model/fault_reach.h"

namespace eh {

std::vector<PlugContact> plug_contacts(const MachinePlan& plan, int port, PlugSide side) {
    std::vector<PlugContact> contacts;
    for (const PlanElement& element : plan.elements) {
        const PlanBlock& block = plan.blocks[static_cast<std::size_t>(element.block)];
        const bool closed_by_a_plug = element.when == ElementCondition::plugged ||
                                      element.when == ElementCondition::plugged_a ||
                                      element.when == ElementCondition::plugged_b;
        if (closed_by_a_plug && element.type == ElementType::resistor && element.from > 0 && element.to > 0 &&
            block.port == port && plug_touches(element.when, block, port, side))
            contacts.push_back({element.block, element.from, element.to});
    }
    return contacts;
}

}  // namespace eh
