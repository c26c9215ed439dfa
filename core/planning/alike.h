// SPDX-License-Identifier: GPL-3.0-or-later
// What hypotheses make one expect, worked out once for those that are alike. Internal to core/diagnosis.
#pragma once

#include <unordered_map>
#include <vector>

#include "core/planning/foresight.h"

namespace eh {

// Hypotheses that show the same with the same weights make one expect the same, as long as no reading has
// touched the quirks that bear on it.
class Alike {
  public:
    template <typename Samples, typename Work>
    const OutcomeShares& outcomes(const Foresight::Asked& asked, const Samples& samples,
                                  const std::vector<double>& weights, Work work) {
        const bool untouched = asked.has_no_quirks();
        auto& entries = known_[untouched ? static_cast<const void*>(&samples) : nullptr];
        for (const Entry& entry : entries) {
            if (untouched && *entry.weights == weights)
                return entry.shares;
        }
        if (!untouched)
            entries.clear();
        entries.push_back({&weights, work()});
        return entries.back().shares;
    }

  private:
    struct Entry {
        const std::vector<double>* weights = nullptr;
        OutcomeShares shares;
    };
    std::unordered_map<const void*, std::vector<Entry>> known_;
};

}  // namespace eh
