// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers of the multimeter at a machine without power that are worth proposing, apart from ohms of a net to
// ground: ohms through a cable, across a suspected part, through the contacts of a suspected receptacle,
// volts of a suspected pack.
#pragma once

#include <string>
#include <vector>

#include "core/inference/ranking.h"
#include "core/machine/model/machine_plan.h"
#include "core/machine/model/off_question.h"
#include "core/readings/reading.h"

namespace eh {

struct OffNumber {
    ReadingKind kind = ReadingKind::between;
    std::string place;
    BenchConfiguration configuration;
    OffQuestion question;
};

// The machine as its board is measured: open, without power, nothing in its ports.
BenchConfiguration measured_off(const BenchConfiguration& now);

// Through every part that is unplugged and measured by itself; the others where their part is suspected
// enough to be looked at by itself.
std::vector<OffNumber> off_numbers(const MachinePlan& plan, const Ranking& ranking,
                                   const BenchConfiguration& now);

}  // namespace eh
