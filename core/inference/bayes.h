// SPDX-License-Identifier: GPL-3.0-or-later
// Bayes' rule in log space.
#pragma once

#include <vector>

namespace eh {

// Log of the sum of exp(logs), without overflow; minus infinity for sums of nothing. Requires no NaN.
double log_sum_exp(const std::vector<double>& logs);

// Probabilities, summing to 1, of hypotheses with these logs of prior times likelihood. Requires one that is
// possible.
std::vector<double> posterior(const std::vector<double>& log_joint);

// How many weights as large as each other would carry as much: 1 where one carries all, their number where
// they are alike (Kish 1965, section 11.2). Requires none below 0 and one above.
double effective_number(const std::vector<double>& weights);

}  // namespace eh
