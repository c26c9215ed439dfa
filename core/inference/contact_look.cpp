// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/contact_look.h"

#include <algorithm>

#include "core/machine/model/fault_reach.h"

namespace eh {

double contact_factor(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                      const LookReading& look, const BenchConfiguration& configuration) {
    constexpr double at_its_own = 0.8;
    if (look.contact == Contact::none || look.seen == Look::sound)
        return 1.0;
    const PlanBlock& block = plan.blocks[static_cast<std::size_t>(plan.find_block(look.part))];
    const auto own = std::find_if(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
        return fault.block == look.part &&
               part_in_play(block, *plan.knowledge().catalogue.find(fault.fault), configuration);
    });
    if (own == faults.end())
        return 1.0;
    const FaultSpec& spec = *plan.knowledge().catalogue.find(own->fault);
    const auto touched = [&](Contact contact, const std::string& pin) {
        const auto node = block.pin_nodes.find(pin);
        return spec.contact ? *spec.contact == contact
                            : node != block.pin_nodes.end() && fault_touches(plan, *own, node->second);
    };
    double touches = 0.0;
    bool touches_this = false;
    for (const auto& [contact, pin] : block.kind->contacts) {
        const bool is_touched = touched(contact, pin);
        touches += is_touched ? 1.0 : 0.0;
        touches_this = touches_this || (is_touched && contact == look.contact);
    }
    if (touches == 0.0)
        return 1.0;
    const double contacts = static_cast<double>(block.kind->contacts.size());
    return (touches_this ? at_its_own * contacts / touches : 0.0) + (1.0 - at_its_own);
}

bool contact_was_seen(const std::vector<const Reading*>& earlier, const Reading& reading) {
    const auto& look = *reading.as<LookReading>();
    return std::any_of(earlier.begin(), earlier.end(), [&](const Reading* before) {
        const auto* other = before->as<LookReading>();
        return other != nullptr && other->part == look.part && other->contact == look.contact &&
               before->configuration.replaced == reading.configuration.replaced;
    });
}

}  // namespace eh
