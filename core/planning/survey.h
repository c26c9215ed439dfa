// SPDX-License-Identifier: GPL-3.0-or-later
// The rest of the survey: the meter read at every port and both ways up, one after another, as one act.
#pragma once

#include <vector>

#include "core/planning/bench_costs.h"
#include "core/planning/danger_watch.h"
#include "core/planning/taken_readings.h"

namespace eh {

// What is left of it. The proof asks for all of it in any case.
struct Survey {
    std::vector<BenchConfiguration> ways;  // to plug in, in the order that moves least; at least two
    double minutes = 0.0;                  // all of it
};

// Ways to plug what is plugged in into the machine as it stands, whose meter was not read yet and that no
// danger forbids, in the order of setup_minutes from one to the next. At a barrel there is one.
std::vector<BenchConfiguration> ways_unread(const MachinePlan& plan, const BenchConfiguration& now,
                                            const TakenReadings& taken,
                                            const std::vector<DangerFound>& dangers, const BenchCosts& costs);

// From `now` through all of them, each with its reading.
double survey_minutes(const std::vector<BenchConfiguration>& ways, const BenchConfiguration& now,
                      const MachinePlan& plan, const BenchCosts& costs);

}  // namespace eh
