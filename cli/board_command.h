// The subcommand `board`: what a netlist or board file holds.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

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

}  // namespace eh::cli
