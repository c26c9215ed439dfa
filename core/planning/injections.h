// SPDX-License-Identifier: GPL-3.0-or-later
// Where a short is likely, what feeds it gently, and where power only strains it. Internal to core/planning.
#pragma once

#include <vector>

#include "core/inference/ranking.h"
#include "core/readings/reading.h"

namespace eh {

// By net, the probability that it is shorted to ground with the bench standing as `off` (measured_off); 0 of
// nets whose ohms are not known yet in the table and of those that are no stage of the charge path.
std::vector<double> short_probabilities(const PredictionTable& table, const Ranking& ranking,
                                        const BenchConfiguration& off);

// Whether some net that the charger feeds is more likely shorted than not: then what is measured with the
// machine off comes before what is read under power (common practice).
bool power_would_strain(const PredictionTable& table, const Ranking& ranking, const BenchConfiguration& now);

// Whether the net was measured to ground, or fed before: nothing is fed into a net of unknown ohms (common
// practice). Readings that were set aside do not count.
bool was_measured(const std::vector<Reading>& taken, const std::string& net);

}  // namespace eh
