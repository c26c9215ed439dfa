// SPDX-License-Identifier: GPL-3.0-or-later
// How often the heat search names the right part: played on seeded boards under a simulated camera.
#pragma once

#include <cstdint>
#include <functional>

namespace eh {

struct HeatEvaluationOptions {
    int boards = 100;
    std::uint64_t seed = 1;
    double noise_kelvin = 0.05;  // one sigma of a pixel in a frame
    double rise_kelvin = 0.03;   // of the shorted part, from the trough to the top of its rhythm
    double seconds = 60.0;       // that the camera looks
    double frames_a_second = 10.0;
    double period_s = 4.0;        // of the supply, on for half of it
    double marks_sigma_mm = 0.3;  // by how much the four points are marked wrongly, in x and in y
    std::function<void(int done)> progress = {};
};

struct HeatScore {
    int boards = 0;
    int right_first = 0;
    int right_in_two = 0;
    int cannot_tell = 0;
    int sure = 0;  // the leading part at 95 % or more
    int sure_and_wrong = 0;
};

// Deterministic for a seed.
HeatScore evaluate_heat(const HeatEvaluationOptions& options);

}  // namespace eh
