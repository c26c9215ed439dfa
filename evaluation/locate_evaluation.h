// SPDX-License-Identifier: GPL-3.0-or-later
// How often the millivolt search names the right part: played on seeded boards whose true copper is not what
// the search assumes (slots, necks, two thicknesses).
#pragma once

#include <cstdint>
#include <functional>

namespace eh {

struct LocateEvaluationOptions {
    int boards = 100;
    std::uint64_t seed = 1;
    int readings = 6;  // at each board, pads chosen as the search proposes
    double amps = 2.0;
    double meter_volts = 10e-6;
    std::function<void(int done)> progress = {};
};

struct LocateScore {
    int boards = 0;
    int right_first = 0;
    int right_in_two = 0;
    int cannot_tell = 0;
    double mean_candidates = 0.0;
    // Among boards where the leading part was given this probability or more.
    int sure = 0;  // 95 %
    int sure_and_wrong = 0;
};

// Deterministic for a seed.
LocateScore evaluate_locating(const LocateEvaluationOptions& options);

}  // namespace eh
