// SPDX-License-Identifier: GPL-3.0-or-later
// Cheap work that is tried for what comes of it, before its suspect is certain (common practice): all power
// cut, firmware reset, a connector seated anew, contacts cleaned, a setting changed, a pack left on charge.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/inference/ranking.h"
#include "core/prediction/prediction_table.h"

namespace eh {

// How the machine stands after each such work, plugged in as now: only work that may put right what is
// suspected with a few in a hundred, that takes no heat, no new part and at most three quarters of an hour.
std::vector<BenchConfiguration> tried_work(const PredictionTable& table, const Ranking& ranking,
                                           const BenchConfiguration& now);

// Of such work, what takes minutes and is likely enough to put the leading suspect right: not more than
// twenty for a success, failures included. Done before anything is measured on (common practice: seat a pack
// anew before it is replaced, ask for the setting before the pack is condemned). The opening is not counted:
// whatever else would be done to a part inside needs it too. `block` is the leading suspect, "" where it is
// no part.
std::optional<Handling> due_cheap_work(const PredictionTable& table, const Ranking& ranking,
                                       const BenchConfiguration& now, const std::string& block);

// Of faults that let go when all power is cut, 0..1.
double hang_probability(const PredictionTable& table, const Ranking& ranking, const BenchConfiguration& now);

// Whether faults that let go when all power is cut are suspected enough for a reading before and one after it
// to be two.
bool may_hang(const PredictionTable& table, const Ranking& ranking, const BenchConfiguration& now);

}  // namespace eh
