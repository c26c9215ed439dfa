// SPDX-License-Identifier: GPL-3.0-or-later
// What a reading would tell: the joint distribution of parties and outcomes. Internal to core/diagnosis.
#pragma once

#include <optional>
#include <vector>

#include "core/planning/next_act.h"
#include "core/planning/outcome_bins.h"
#include "core/planning/parties.h"

namespace eh {

// Built hypothesis by hypothesis, then finished, then asked.
class Contingency {
  public:
    // Requires parties that outlive it.
    explicit Contingency(const Parties& parties) : parties_(parties) {}

    // A hypothesis shows outcomes with these shares.
    void add(std::size_t hypothesis, const OutcomeShares& shares);
    // "None of these" shows what the others show or, with the share `unknown_shows`, anything; a misreading
    // shows anything.
    void finish(double unknown_shows);

    // Mutual information between party and outcome.
    [[nodiscard]] double bits() const;
    // As much of the bits as bears on the next decision: whether it is the leading party counts in full,
    // which of the others it is as much as they are likely together. For a suspect of 90 % the rest is hardly
    // worth a reading before it was tested.
    [[nodiscard]] double deciding_bits() const;
    // Expected minutes of repairing once the outcome is known.
    [[nodiscard]] double cost_after(const BenchCosts& costs) const;
    // What the reading would tell if one doubted the leading party: bits between it, the others, made more
    // likely than they are, and an effect that shows as anything.
    [[nodiscard]] double bits_on_trial() const;
    // The outcomes worth naming, most probable first.
    [[nodiscard]] std::vector<Telling> tellings(ReadingKind kind, const MachinePlan& plan) const;

    // The two parties that the outcomes part best, weighed by how likely both are; nothing where no outcome
    // is clearly the one's and not the other's.
    [[nodiscard]] std::optional<ToldApart> told_apart() const;

  private:
    [[nodiscard]] double shows(std::size_t outcome, std::size_t party) const;

    const Parties& parties_;
    // [outcome][party]; empty where no hypothesis shows the outcome. The last one stands for all of those.
    std::vector<std::vector<double>> joint_;
    double outcomes_ = 0.0;  // how many there are
};

}  // namespace eh
