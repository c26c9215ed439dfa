// What a reading would tell: the joint distribution of parties and outcomes. Internal to core/diagnosis.
#pragma once

#include <vector>

#include "core/diagnosis/next_act.h"
#include "core/diagnosis/outcome_bins.h"
#include "core/diagnosis/parties.h"

namespace eh {

// Built hypothesis by hypothesis, then finished, then asked.
class Contingency {
  public:
    // Requires parties that outlive it.
    explicit Contingency(const Parties& parties) : parties_(parties) {}

    // A hypothesis shows outcomes with these shares.
    void add(std::size_t hypothesis, const OutcomeShares& shares);
    // "None of these" may show anything; so may a misreading.
    void finish();

    // Mutual information between party and outcome.
    [[nodiscard]] double bits() const;
    // Expected minutes of repairing once the outcome is known.
    [[nodiscard]] double cost_after(const BenchCosts& costs) const;
    // The outcomes worth naming, most probable first.
    [[nodiscard]] std::vector<Telling> tellings(ReadingKind kind, const MachinePlan& plan) const;

  private:
    const Parties& parties_;
    std::vector<std::vector<double>> joint_;  // [outcome][party]; empty where nothing shows the outcome
};

}  // namespace eh
