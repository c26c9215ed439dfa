// SPDX-License-Identifier: GPL-3.0-or-later
// What a job says of its machine before any reading.
#pragma once

#include "core/job/job.h"
#include "core/planning/next_act.h"
#include "core/prediction/hypothesis.h"

namespace eh {

// What the intake states and denies, which parts were changed, and where the new ones came from: of a part
// that was changed twice, the last. Nothing of other machines or of the shop's own repairs.
Beforehand known_before(const Job& job);

// Takes over what the job says of how to go on: facts of the intake, nets that no probe gets at, whether a
// part is ordered, what was reflowed. The other options stay.
void take_from_job(const Job& job, NextOptions& options);

}  // namespace eh
