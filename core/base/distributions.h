// SPDX-License-Identifier: GPL-3.0-or-later
// Quantiles of distributions, and bounds on what was counted (Boost.Math).
#pragma once

namespace eh {

// The value that a Student's t of so many degrees of freedom stays below with this probability. Requires
// freedom > 0 and 0 < probability < 1.
double student_quantile(double probability, double freedom);

// The share that a beta distribution with these two shapes stays below with this probability. Requires
// shapes > 0 and 0 < probability < 1.
double beta_quantile(double a, double b, double probability);

// The mean of a Poisson count that so few would be seen of with probability 1 - confidence: the upper bound
// of what was counted (Garwood 1936; a gamma quantile). Requires counted >= 0 and 0 < confidence < 1.
double poisson_upper(int counted, double confidence);

}  // namespace eh
