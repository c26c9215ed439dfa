// SPDX-License-Identifier: GPL-3.0-or-later
// The subcommands `board` and `locate`: what a netlist or board file holds, and which part on a net is
// shorted.
#pragma once

#include <cstdint>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace eh::cli {

struct BoardQuestion {
    std::string net;   // empty: none asked
    std::string part;  // likewise
    std::string out;   // file to write the board to in the program's own form; empty: none
};

// Counts and remarks of a board; with a net its parts and where it goes on, with a part its nets. Refuses
// names that are not on it.
Result<nlohmann::json> describe_board(const std::string& file, const BoardQuestion& question);

struct LocateQuestion {
    std::string net;
    std::vector<double> fed_at_mm;  // x, y of where the current goes in
    double amps = 1.0;
    double meter_microvolts = 10.0;  // of the meter's last place
    std::vector<std::string>
        readings;  // "C5=12.34" or "U3-7=12.34": millivolts at a pad of that part on the net
};

// Candidates with their probabilities, and the pad to probe next.
Result<nlohmann::json> locate(const std::string& file, const LocateQuestion& question);

// How often the search is right on seeded boards whose copper is not as assumed.
nlohmann::json evaluate_locate(int boards, std::uint64_t seed, int readings);

}  // namespace eh::cli
