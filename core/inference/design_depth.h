// SPDX-License-Identifier: GPL-3.0-or-later
// Which hypotheses are to be looked at in many designs: those that count, and of which few designs carry what
// they are believed for.
#pragma once

#include <vector>

#include "core/inference/ranking.h"

namespace eh {

// By hypothesis of the table, whose ranking this is. Many designs where the hypothesis is not out of the
// question and the readings have left fewer than half of the designs that it had (Kish's effective size): how
// well it fits then hangs on which designs happened to be drawn. "Nothing wrong", with which the others are
// compared, has as many as the deepest. No more than eight, the most probable first.
std::vector<Depth> depths_needed(const PredictionTable& table, const Ranking& ranking);

// How many designs carry these weights of samples, whose designs lie next to each other. Requires one above
// 0.
double designs_that_carry(const std::vector<double>& sample_weights);

}  // namespace eh
