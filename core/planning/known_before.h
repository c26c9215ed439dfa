// SPDX-License-Identifier: GPL-3.0-or-later
// What a job says of its machine before any reading.
#pragma once

#include "core/job/job.h"
#include "core/prediction/hypothesis.h"

namespace eh {

// What the intake states and denies, which parts were changed, and where the new ones came from: of a part
// that was changed twice, the last. Nothing of other machines or of the shop's own repairs.
Beforehand known_before(const Job& job);

}  // namespace eh
