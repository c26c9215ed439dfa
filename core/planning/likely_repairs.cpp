// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/likely_repairs.h"

#include <algorithm>

namespace eh {

std::vector<SaidRepair> likely_repairs(const Ranking& ranking, const PredictionTable& table,
                                       const std::vector<std::string>& replaced, std::size_t most) {
    std::vector<SaidRepair> repairs;
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    for (const PartSuspicion& part : ranking.parts) {
        const bool changed = std::find(replaced.begin(), replaced.end(), part.block) != replaced.end();
        if (part.kind != HypothesisKind::fault || changed)
            continue;
        if (repairs.size() >= most)
            break;
        const FaultSpec* fault =
            catalogue.find(fault_to_remedy(ranking, table, part.block, part.work, replaced).fault);
        if (fault == nullptr || fault->remedies.empty())
            continue;
        // A probability is a sum over hypotheses and may pass 1 in its last digit.
        repairs.push_back({part.block, fault->remedies.front().act, std::clamp(part.probability, 0.0, 1.0)});
    }
    return repairs;
}

}  // namespace eh
