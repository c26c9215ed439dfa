// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/removal.h"

#include <algorithm>

namespace eh {

std::size_t left_without(const PredictionTable& table, std::size_t hypothesis, const std::string& block) {
    const auto& hypotheses = table.hypotheses();
    const auto& faults = hypotheses[hypothesis].faults;
    std::vector<FaultInstance> rest;
    std::copy_if(faults.begin(), faults.end(), std::back_inserter(rest),
                 [&](const FaultInstance& fault) { return fault.block != block; });
    if (rest.size() == faults.size())
        return hypothesis;
    const auto index_where = [&](auto holds) {
        return static_cast<std::size_t>(std::find_if(hypotheses.begin(), hypotheses.end(), holds) -
                                        hypotheses.begin());
    };
    const std::size_t other =
        index_where([&](const Hypothesis& h) { return !rest.empty() && h.faults == rest; });
    return other < hypotheses.size()
               ? other
               : index_where([](const Hypothesis& h) { return h.kind == HypothesisKind::nothing_wrong; });
}

}  // namespace eh
