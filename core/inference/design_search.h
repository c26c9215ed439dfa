// SPDX-License-Identifier: GPL-3.0-or-later
// What readings say of the design of the machine, whatever is wrong with it: where to look more closely.
//
// A store holds few designs, and the one on the bench is hardly among them. So the best of them is varied
// in one habit after the other, which tells what each habit changes in what was read, and new designs are
// drawn with those that fit; importance weights keep the sums over designs what they were
// (docs/decisions/094-designs-are-searched-for.md).
#pragma once

#include <vector>

#include "core/inference/ranking.h"
#include "core/prediction/design_samples.h"

namespace eh {

// By design that all hypotheses of the table are drawn in: log of how likely the readings are of machines of
// that design, summed over the hypotheses that the table has, up to a constant. Requires the ranking of that
// table. "None of these", which has no samples, does not count.
std::vector<double> log_evidence_of_designs(const PredictionTable& table, const Ranking& ranking);
// The same, of those hypotheses only that do not put the fault at a part that the leading one names. Empty
// where every hypothesis does.
std::vector<double> log_evidence_for_rivals(const PredictionTable& table, const Ranking& ranking);
// Whether a hypothesis puts a fault at a part that the leading one of the ranking names. "Nothing wrong" and
// "none of these" name none. Requires the ranking of that table.
bool names_leading_part(const PredictionTable& table, const Ranking& ranking, std::size_t hypothesis);

// How many designs carry the sum: 1 where one does, all where they are alike (Kish's effective size).
// `designs` begin with those that the evidence is of.
double effective_designs(const std::vector<double>& log_evidence, const std::vector<DesignSample>& designs);

// How often to draw the habits of the designs to look at next. `log_evidence` is of neighbours(design), in
// their order. A habit that changes nothing is drawn as it is met; none is excluded.
DesignShares shares_that_fit(const DesignShares& met, const DesignSample& design,
                             const std::vector<double>& log_evidence);

}  // namespace eh
