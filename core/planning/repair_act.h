// SPDX-License-Identifier: GPL-3.0-or-later
// The repair of a suspect as an act: which work, how long, and how often it puts the fault right.
#pragma once

#include "core/planning/next_act.h"
#include "core/planning/parties.h"

namespace eh {

// The catalogue's first remedy, or with `options.reflow_first` the joints of a chip warmed before it is
// replaced (once). Requires a party that is a part.
NextAct repair_act(const Party& suspect, const Ranking& ranking, const PredictionTable& table,
                   const BenchConfiguration& now, const NextOptions& options);

}  // namespace eh
