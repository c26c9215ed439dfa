// SPDX-License-Identifier: GPL-3.0-or-later
// The repair of a suspect as an act: which work, how long, and how often it puts the fault right.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "core/planning/next_act.h"
#include "core/planning/parties.h"

namespace eh {

// The catalogue's first remedy, or with `options.reflow_first` the joints of a chip warmed before it is
// replaced (once). Requires a party that is a part.
NextAct repair_act(const Party& suspect, const Ranking& ranking, const PredictionTable& table,
                   const BenchConfiguration& now, const NextOptions& options);

// Whose repair may be due: the likeliest party, or before it a part that was seen broken and is suspected
// enough to be changed in any case: one that is likelier by a hair does not come first. Requires parties.
const Party& up_for_repair(const Parties& parties,
                           const std::function<bool(const std::string&)>& seen_broken);

// Why the leading suspect is put right now, or nothing while a reading is worth more: from the suspicion,
// from what the readings that are left (`acts`) would save or tell, and from whether the part was seen
// broken. Taking a chip off for a reading, at half the minutes of the repair or more, is no reason to wait.
// Before the first reading nothing is left only because it is certain or seen. With the case open, a
// part that the shop can lend is changed at less suspicion than one that is soldered. Requires a party that
// is a part.
std::optional<DueBecause> why_due(const Party& suspect, const MachinePlan& plan,
                                  const BenchConfiguration& now, bool seen_broken, bool any_taken,
                                  const std::vector<NextAct>& acts, const BenchCosts& costs);

}  // namespace eh
