// SPDX-License-Identifier: GPL-3.0-or-later
// Means over neighbouring pixels.
#pragma once

#include <vector>

namespace eh {

// Each pixel's mean over three by three, so many times over; at edges over what is there.
std::vector<float> smoothed(const std::vector<float>& values, int width, int height, int passes);

// What that leaves of white noise away from the edges: the root of the sum of squared weights. Requires one
// pass (weights 1 1 1 each way) or two (1 2 3 2 1).
constexpr double smoothed_noise_share(int passes) {
    return passes == 1 ? 1.0 / 3.0 : 19.0 / 81.0;
}

}  // namespace eh
