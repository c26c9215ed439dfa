// SPDX-License-Identifier: GPL-3.0-or-later
// Fixed orders of work, the way benches are run without looking ahead: what choosing the next act is measured
// against. Common practice.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/planning/next_act.h"

namespace eh {

enum class BenchOrder {
    outside_in,     // plug, charger, lead and what the machine says; then volts along the path, then ohms
    ohms_first,     // one survey, then the case is opened and every net is measured to ground
    thermal_first,  // one survey, then the hottest part at each port, then ohms, then volts
};
inline constexpr int bench_order_count = 3;

std::string to_text(BenchOrder order);

// All readings of an order for a machine that stands at `arrival`, first to last; costs are set by play.
std::vector<NextAct> readings_of(BenchOrder order, const MachinePlan& plan,
                                 const BenchConfiguration& arrival);

}  // namespace eh
