// SPDX-License-Identifier: GPL-3.0-or-later
// Which charger or lead is to be tried before anybody condemns a suspect: a minute outside against an hour
// inside (common practice).
#pragma once

#include <optional>
#include <vector>

#include "core/planning/parties.h"

namespace eh {

// The set-up, from `now`, in which one more reading at the plug is due before `top` is condemned:
//  - a charger or lead that is suspected much: the shop's own in its place, where it was not tried yet;
//  - a chip whose repair is due, by what it does and not by a short, while the charger was never seen to give
//  more
//    than its first 5 V: the shop's own charger, then the shop's own lead.
// Nothing where none is due. `taken` holds what was read so far; readings set aside do not count.
std::optional<BenchConfiguration> due_source_swap(const Party& top, const std::vector<Reading>& taken,
                                                  const BenchConfiguration& now, const MachinePlan& plan,
                                                  const BenchCosts& costs);

}  // namespace eh
