// SPDX-License-Identifier: GPL-3.0-or-later
// Before heat a suspect is put to the test where it sits: readings at its own pins, which an effect that the
// catalogue does not hold, or another part, would have to imitate one by one. Internal to core/diagnosis.
#pragma once

#include <string>
#include <vector>

#include "core/machine/model/machine_plan.h"
#include "core/planning/parties.h"
#include "core/readings/reading.h"

namespace eh {

// Whether a reading of this kind and place is taken at the part's own pins, through it, by its heat, with a
// known-good one in its place, or is what the part itself says: a controller on its CC line, the processor
// side by its message. `configuration` is that of the reading. Requires a block of the plan.
bool is_at_part(ReadingKind kind, const std::string& place, const BenchConfiguration& configuration,
                const MachinePlan& plan, int block);

// Whether anything was measured with the part off the board: the best test of it there is.
bool was_taken_off(const std::vector<Reading>& readings, const std::string& block);

// How many readings at its pins a suspect has to stand before its repair: more where nothing in the catalogue
// fits well, so that "none of these" is likelier than before the first reading (estimates).
std::size_t trials_wanted(const Parties& parties, const FaultCatalogue& catalogue);

// How many readings that count were taken at the part's own pins; of several of one kind and place only one.
// What is measured through the part alone, from end to end or at a plug in it, counts for two.
std::size_t readings_at_part(const std::vector<Reading>& readings, const MachinePlan& plan, int block);

}  // namespace eh
