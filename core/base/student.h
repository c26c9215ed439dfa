// SPDX-License-Identifier: GPL-3.0-or-later
// Quantiles of Student's t distribution.
#pragma once

namespace eh {

// The value that a t of so many degrees of freedom stays below with this probability, from the normal
// quantile by the expansion of Abramowitz and Stegun, Handbook of Mathematical Functions, 26.7.5: to 1e-3
// from 4 degrees of freedom on within 0.005..0.995. Requires freedom >= 4 and 0 < probability < 1.
double student_quantile(double probability, double freedom);

}  // namespace eh
