// SPDX-License-Identifier: GPL-3.0-or-later
// Boards as JSON: "eager-hound.board/1" (docs/formats.md), the program's own form of a map.
#pragma once

#include <filesystem>
#include <string>

#include "core/base/result.h"
#include "core/board/ipc356.h"

namespace eh {

std::string write_board(const BoardMap& map, const std::vector<BoardPicture>& pictures = {});
// Refuses what is no such file with the field and a sentence. Remarks as with a netlist (pins that stand
// twice).
Result<BoardImport> parse_board(const std::string& text, const std::string& file);

// A file of either kind, told apart by how it begins: "{" the program's own, else a netlist.
Result<BoardImport> read_board(const std::filesystem::path& path);

}  // namespace eh
