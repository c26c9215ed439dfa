// Outcomes of a reading, coarse enough to be told apart at the bench: the alphabet in which next_act.h counts
// information. Internal to core/diagnosis.
#pragma once

#include <string>
#include <vector>

#include "core/diagnosis/reading.h"
#include "core/machine/machine_plan.h"

namespace eh {

// Number of the outcome a view shows for a reading kind at a place. Numbers are only meaningful within the
// same kind and place. net/block: index of the place, -1 where it has none.
int outcome_of(ReadingKind kind, const PoweredView& view, int net);
int outcome_of_ohms(double ohms);

// For people.
std::string outcome_text(ReadingKind kind, int outcome, const MachinePlan& plan);

}  // namespace eh
