// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/intake_facts.h"

#include <algorithm>

#include "core/base/text.h"

namespace eh {

std::string unknown_facts_remark(const FaultCatalogue& catalogue, const std::vector<std::string>& facts) {
    constexpr std::size_t most_bytes = 200;
    std::string unknown;
    for (const std::string& fact : facts) {
        const bool known = std::any_of(catalogue.facts.begin(), catalogue.facts.end(),
                                       [&](const IntakeFact& each) { return each.id == fact; });
        if (!known)
            unknown += (unknown.empty() ? "" : ", ") + in_quotes(fact);
    }
    if (unknown.empty())
        return {};
    return "The intake names " + shortened(unknown, most_bytes) +
           ", which this program does not know: it stays with the job, but nothing is weighed by it.";
}

}  // namespace eh
