// SPDX-License-Identifier: GPL-3.0-or-later
// What was found on the machine that keeps power away: a rule before it is a cost.
#pragma once

#include <string>
#include <vector>

#include "core/machine/model/danger.h"
#include "core/machine/model/machine_plan.h"
#include "core/readings/reading.h"

namespace eh {

// A danger that is there, with where.
struct DangerFound {
    const Danger* danger = nullptr;  // of the plan's knowledge
    std::string place;               // the part that was seen, or the net that was measured
    std::string port;  // that nothing is plugged into; "" where the whole machine, or a source, is meant
};

// Dangers that the readings show and that nothing was done about since: parts that were seen so and are
// neither removed nor replaced in `now`; nets whose last reading of ohms was low, with the same parts on the
// board as now. Readings that were set aside show nothing.
std::vector<DangerFound> dangers_found(const MachinePlan& plan, const std::vector<Reading>& taken,
                                       const BenchConfiguration& now);

// The first of them that forbids the machine to stand so; nullptr where none does.
const DangerFound* forbidding(const std::vector<DangerFound>& dangers,
                              const BenchConfiguration& configuration);

}  // namespace eh
