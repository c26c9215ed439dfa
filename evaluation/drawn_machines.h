// SPDX-License-Identifier: GPL-3.0-or-later
// Machines of an evaluation: those that a customer would bring in. Internal to core/diagnosis.
#pragma once

#include <vector>

#include "core/inference/reasoner.h"
#include "evaluation/evaluation.h"

namespace eh {

// Draws from a plan of the generating model until there are as many as asked for. Drawn again are machines
// that would not charge at every port if nothing were wrong (wide tolerances; those were not sold), faulty
// ones that show at no plug with what the customer has (nobody brings those in), and, where effects outside
// the catalogue are asked for, those that the catalogue holds in all but name: with every volt, ohm and word
// in hand, some hypothesis of the reasoner explains what the effect has changed.
std::vector<DrawnMachine> drawn_machines(const MachinePlan& generating, const Reasoner& reasoner,
                                         const EvaluationOptions& options);

}  // namespace eh
