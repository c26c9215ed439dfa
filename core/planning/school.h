// SPDX-License-Identifier: GPL-3.0-or-later
// Where practitioners disagree on what to begin with.
#pragma once

#include "core/planning/next_act.h"

namespace eh {

// Whether a school begins with acts like this one.
bool likes(School school, const NextAct& act);

}  // namespace eh
