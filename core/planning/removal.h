// SPDX-License-Identifier: GPL-3.0-or-later
// What is left of a hypothesis when a part is taken off the board.
#pragma once

#include <cstddef>
#include <string>

#include "core/prediction/prediction_table.h"

namespace eh {

// Index of the hypothesis that shows what `hypothesis` shows with the part off: itself where the part is at
// no fault in it; that of its other fault where it has one that the table knows by itself; else that nothing
// is wrong. Requires an index of the table.
std::size_t left_without(const PredictionTable& table, std::size_t hypothesis, const std::string& block);

}  // namespace eh
