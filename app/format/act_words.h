// SPDX-License-Identifier: GPL-3.0-or-later
// Words for what is to be done next, and for whom it leads to.
#pragma once

#include <QString>
#include <string>

#include "core/machine/model/machine_plan.h"
#include "core/planning/next_act.h"
#include "core/prediction/hypothesis.h"

namespace eh::format {

// “Replace: Surge protector of port 2”, “Ohms of VBUS of port 2 to ground”.
QString actText(const NextAct& act, const MachinePlan& plan);

// The part that leads, or “nothing wrong”, “none of these”. Requires a block of the plan for a fault.
QString leaderText(HypothesisKind kind, const std::string& block, const MachinePlan& plan);

}  // namespace eh::format
