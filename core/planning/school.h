// SPDX-License-Identifier: GPL-3.0-or-later
// In which order acts are liked where what they tell hardly differs.
#pragma once

#include "core/planning/next_act.h"

namespace eh {

// How much more than its bits a minute an act counts: what a school begins with, where practitioners
// disagree; and, with all of them, what is read from outside as long as the case is closed (common practice:
// outside before inside). Opening the case ends what the customer brought in, so that it is not done for a
// reading that is about as good. Where power would strain a likely short, what is read under power counts
// less, from wherever (common practice: unpowered before powered).
double order_factor(const NextAct& act, const BenchConfiguration& now, School school, bool power_strains);

}  // namespace eh
