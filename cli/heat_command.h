// SPDX-License-Identifier: GPL-3.0-or-later
// The subcommand `heat`: which part is the warm one, by frames of a thermal camera over the board map.
#pragma once

#include <cstdint>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh::cli {

struct HeatQuestion {
    std::string board;
    std::vector<std::string> frames;     // files, in the order of time
    std::vector<std::string> reference;  // frames with the supply off; empty: look at a rhythm instead
    std::vector<std::string> marks;      // "x_px,y_px=x_mm,y_mm", four or more
    std::string net;                     // whose parts are suspected; empty: all alike
    bool bottom = false;
    double frames_a_second = 0.0;  // of frames that do not say their time
    double period_s = 0.0;         // of the supply; 0: what the frames say, or the trace
    std::string trace;             // CSV of the inline meter: the charger's retries are the rhythm
    double marks_mm = 0.4;         // how well they were marked
};

// All files of a question, to be told where standard input was laid down.
std::vector<std::string*> files_of(HeatQuestion& question);

// Spots, candidates with their probabilities, remarks on the files.
Result<nlohmann::json> search_heat(const HeatQuestion& question);

// How often the search is right on seeded boards under a simulated camera.
nlohmann::json evaluate_heat_search(int boards, std::uint64_t seed);

// How often the verdict on a net is right on rails of few ohms, sound and shorted.
nlohmann::json evaluate_verdicts(int rails, std::uint64_t seed);

}  // namespace eh::cli
