// SPDX-License-Identifier: GPL-3.0-or-later
// What the program holds likely to cure, in words that a job can keep.
#pragma once

#include "core/inference/ranking.h"
#include "core/job/said_before.h"

namespace eh {

// The most suspected parts with the work that puts most of their ways of failing right, most probable first;
// what work done so far has put right is left out, and so are "nothing wrong" and "none of these".
std::vector<SaidRepair> likely_repairs(const Ranking& ranking, const PredictionTable& table,
                                       const BenchConfiguration& now = {}, std::size_t most = 5);

}  // namespace eh
