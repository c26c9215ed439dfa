// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/source_pieces.h"

#include <algorithm>

#include "core/machine/model/machine_plan.h"

namespace eh {

bool has_fixed_lead(const Kit& kit, const std::string& family) {
    const LeadSpec* lead = kit.lead_for(family);
    return lead != nullptr && lead->fixed;
}

std::vector<std::string> changed_with(const Kit& kit, const std::string& block) {
    for (const LeadSpec& lead : kit.leads) {
        std::vector<std::string> both{charger_block_id(lead.family), lead_block_id(lead.family)};
        if (lead.fixed && std::find(both.begin(), both.end(), block) != both.end())
            return both;
    }
    return {block};
}

void set_owner(BenchConfiguration& configuration, SourcePiece piece, Owner owner, const Kit& kit,
               const std::string& family) {
    const bool both = has_fixed_lead(kit, family);
    if (both || piece == SourcePiece::charger)
        configuration.charger = owner;
    if (both || piece == SourcePiece::lead)
        configuration.lead = owner;
}

}  // namespace eh
