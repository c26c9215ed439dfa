// SPDX-License-Identifier: GPL-3.0-or-later
// Parts that are measured from one end to the other as they sit on the board: fuses, sense resistors, series
// and enable resistors.
#pragma once

#include <string>
#include <vector>

#include "core/inference/ranking.h"
#include "core/machine/model/machine_plan.h"
#include "core/machine/model/off_question.h"

namespace eh {

struct AcrossPart {
    int block = 0;       // of the plan
    std::string net_id;  // at one end
    std::string other_id;
    OffQuestion question;
};

// One entry for each resistor between two nets of the topology that stands in a part soldered to the board.
// Parts that are unplugged and measured by themselves are not among them.
std::vector<AcrossPart> parts_measured_across(const MachinePlan& plan);

// Of those, the parts that are suspected enough to be looked at by themselves.
std::vector<AcrossPart> suspects_measured_across(const MachinePlan& plan, const Ranking& ranking);

}  // namespace eh
