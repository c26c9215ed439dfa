// SPDX-License-Identifier: GPL-3.0-or-later
// An outcome of a proposed reading, written down as a reading. Internal to core/planning.
#pragma once

#include <optional>

#include "core/planning/next_act.h"

namespace eh {

// What would be written down if an act came out as this outcome (outcome_bins.h): words as the outcome has
// them, numbers in the middle of those within it that the machines in question make one expect, each counted
// as often as it is likely. `now` is how the bench stood when the act was proposed. Nothing where the columns
// are not known, where hardly any machine shows that outcome, and for kinds that are not proposed. Requires a
// reading, not a repair.
std::optional<Reading> typical_reading(const PredictionTable& table, const Ranking& ranking,
                                       const BenchConfiguration& now, const NextAct& act, int outcome);

}  // namespace eh
