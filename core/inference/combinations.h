// SPDX-License-Identifier: GPL-3.0-or-later
// Faults that came together though none brought about another: after liquid, after an earlier repair, or when
// a part was changed and the new one was fitted badly.
//
// There are far too many such sets to simulate them all, so those that the readings make promising are found
// first (conflict-directed candidates, after de Kleer and Williams 1987): where only one fault of a set shows
// in a reading, the set predicts what that fault predicts.
#pragma once

#include <vector>

#include "core/inference/likelihood.h"
#include "core/prediction/prediction_table.h"

namespace eh {

struct CombinationOptions {
    std::size_t most = 40;            // sets returned
    std::size_t most_triples = 10;    // of them, with three faults
    double least_second_share = 0.0;  // of jobs with a second, untied fault, whatever is known beforehand
};

// Log likelihood of each reading under each hypothesis of the table by itself: [reading][hypothesis].
using LikelihoodTable = std::vector<std::vector<double>>;

// Sets of two and three faults out of the single ones of `hypotheses`, most promising first; `prior` is their
// weight on the scale of the priors of `hypotheses`. Empty when neither `beforehand` nor the options give a
// reason for any.
// Requires hypotheses of make_hypotheses(plan, beforehand) and a likelihood of each of them in each row.
std::vector<Hypothesis> promising_combinations(const MachinePlan& plan, const Beforehand& beforehand,
                                               const std::vector<Hypothesis>& hypotheses,
                                               const LikelihoodTable& likelihoods,
                                               const CombinationOptions& options = {});

}  // namespace eh
