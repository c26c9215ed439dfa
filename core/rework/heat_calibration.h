// SPDX-License-Identifier: GPL-3.0-or-later
// What a bench's own rework says of its hot air and its boards.
#pragma once

#include <vector>

#include "core/rework/heat_setup.h"

namespace eh {

// One logged piece of work: how it was heated, and after how many seconds of air the part moved.
struct HeatLog {
    HeatSetup setup;
    double moved_after_s = 0.0;
};

// The factors of air and sink that explain the logs best: maximum a posteriori of their logarithms, prior
// spread 0.4 each around 1, times known within 20 %; found by damped Gauss-Newton from the prior. The spreads
// are those of the normal approximation there. A log that is refused (setup, or a time outside 1 to 1800 s)
// refuses all, with its number. No log gives the prior.
Result<HeatCalibration> calibrate_heat(const std::vector<HeatLog>& logs);

// Seconds until the part moves (joint at its liquidus), for that setup; up to 3,600 s, and growing with what
// is missing where the joint never gets there, so that a fit can follow it.
double moving_s(const HeatSetup& setup);

}  // namespace eh
