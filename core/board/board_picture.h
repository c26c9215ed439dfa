// SPDX-License-Identifier: GPL-3.0-or-later
// A picture of a board, tied to its millimetres by marked points.
#pragma once

#include <string>
#include <vector>

#include "core/board/board_map.h"

namespace eh {

// A point of a picture, in pixels from the middle of the upper left one.
struct PicturePoint {
    double x_px = 0.0;
    double y_px = 0.0;
    friend bool operator==(const PicturePoint&, const PicturePoint&) = default;
};

struct MarkedPoint {
    PicturePoint seen;
    Point place;
    friend bool operator==(const MarkedPoint&, const MarkedPoint&) = default;
};

struct BoardPicture {
    std::string file;  // as written: beside the board's file, or with its whole path
    BoardSide side = BoardSide::top;
    std::vector<MarkedPoint> marks;  // four or more
    friend bool operator==(const BoardPicture&, const BoardPicture&) = default;
};

}  // namespace eh
