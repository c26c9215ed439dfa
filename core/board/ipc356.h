// SPDX-License-Identifier: GPL-3.0-or-later
// Netlists in IPC-D-356A: the lines that board makers test bare boards by.
//
// Read are test records (317, 327, 367), units and net-name aliases; conductors (378), adjacency (379),
// outlines (389) and continuations are read past. Layout: IPC-D-356A, section 4 (from memory), held against
// the output of a PCB editor in the tests.
#pragma once

#include <cstdint>
#include <iosfwd>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/board/board_picture.h"

namespace eh {

struct BoardRemark {
    std::uint64_t line = 0;  // 0: of the file as a whole
    std::string text;
};

struct BoardImport {
    BoardMap map;
    std::vector<BoardRemark> remarks;    // what could not be read, or may mean something else; the first 200
    std::uint64_t further_remarks = 0;   // that were left out of the list
    std::uint64_t records = 0;           // test records read
    std::vector<BoardPicture> pictures;  // of the program's own files
};

// Reads a netlist. What one line cannot give is remarked and the rest is kept; refused is only a file without
// any test record.
Result<BoardImport> read_ipc356(std::istream& file, const std::string& name);

}  // namespace eh
