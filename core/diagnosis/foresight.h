// What a hypothesis makes one expect of a reading that was not taken yet, as shares of its outcomes; what
// earlier readings have shown of each sample's quirks counts. Internal to core/diagnosis.
#pragma once

#include <string>
#include <vector>

#include "core/diagnosis/outcome_bins.h"
#include "core/diagnosis/ranking.h"

namespace eh {

class Foresight {
  public:
    // Requires a table and a ranking over it that outlive it.
    Foresight(const PredictionTable& table, const Ranking& ranking, const AccuracyOptions& accuracy = {})
        : table_(table), ranking_(ranking), accuracy_(accuracy) {}

    // Shares of the outcomes of a reading (kinds but net_ohms) at a place, summing to 1. `net` is the place's
    // index, -1 where it has none.
    [[nodiscard]] OutcomeShares outcomes(const Reading& reading, int net, std::size_t hypothesis,
                                         const Views& views) const;
    // Of net_ohms.
    [[nodiscard]] OutcomeShares outcomes(const Reading& reading, std::size_t hypothesis,
                                         const std::vector<double>& ohms) const;

  private:
    [[nodiscard]] Foreseen shifted(const Expected& expected, std::size_t hypothesis, std::size_t sample,
                                 int channel) const;
    void add_meter(const Reading& reading, std::size_t hypothesis, const Views& views,
                   OutcomeShares& shares) const;

    const PredictionTable& table_;
    const Ranking& ranking_;
    AccuracyOptions accuracy_;
};

}  // namespace eh
