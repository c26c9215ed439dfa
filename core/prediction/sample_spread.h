// SPDX-License-Identifier: GPL-3.0-or-later
// How few samples are spread over what is not known: evenly, and densely where a search has shown that it
// matters, with weights that make up for it.
#pragma once

#include <cstddef>
#include <optional>

#include "core/machine/model/fault.h"

namespace eh {

// The i-th of a sequence over 0..1 that is even in any stretch of it too (additive recurrence of the golden
// ratio; Weyl 1916).
double evenly(std::size_t i);
// Another such sequence, which with the first is even over the square.
double evenly_beside(std::size_t i);

// A quantile of severity for a sample, and how much that sample counts.
struct SeverityDraw {
    double quantile = 0.5;
    double weight = 1.0;
};

// `even` (0..1) as it is, weighing 1, where no range is given. Else three samples of four lie in the range
// and one is drawn from all there is, so that a range in the wrong place costs samples but no truth
// (defensive importance sampling; Hesterberg 1995). The mean of the weights is 1 over all `even`. Requires 0
// <= from < to <= 1.
SeverityDraw severity_draw(double even, const std::optional<SeverityRange>& range);

}  // namespace eh
