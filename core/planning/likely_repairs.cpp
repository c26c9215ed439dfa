// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/likely_repairs.h"

#include <algorithm>

#include "core/machine/model/fault_reach.h"

namespace eh {
namespace {

bool has_a_fault_left(const Ranking& ranking, const PredictionTable& table, const PartSuspicion& part,
                      const BenchConfiguration& now) {
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    const auto holds = [&](const FaultInstance& fault) {
        return fault.block == part.block && work_for(fault, catalogue) == part.work &&
               still_there(fault.block, *catalogue.find(fault.fault), now);
    };
    return std::any_of(ranking.suspicions.begin(), ranking.suspicions.end(), [&](const Suspicion& suspicion) {
        const auto& faults = table.hypotheses()[suspicion.hypothesis].faults;
        return std::any_of(faults.begin(), faults.end(), holds);
    });
}

}  // namespace

std::vector<SaidRepair> likely_repairs(const Ranking& ranking, const PredictionTable& table,
                                       const BenchConfiguration& now, std::size_t most) {
    std::vector<SaidRepair> repairs;
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    for (const PartSuspicion& part : ranking.parts) {
        if (part.kind != HypothesisKind::fault || !has_a_fault_left(ranking, table, part, now))
            continue;
        if (repairs.size() >= most)
            break;
        const FaultSpec* fault =
            catalogue.find(fault_to_remedy(ranking, table, part.block, part.work, now).fault);
        if (fault == nullptr || fault->remedies.empty())
            continue;
        // A probability is a sum over hypotheses and may pass 1 in its last digit.
        repairs.push_back({part.block, fault->remedies.front().act, std::clamp(part.probability, 0.0, 1.0)});
    }
    return repairs;
}

}  // namespace eh
