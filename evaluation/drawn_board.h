// SPDX-License-Identifier: GPL-3.0-or-later
// Boards drawn by lot with a short on one of their parts: what the searches are judged on.
#pragma once

#include <vector>

#include "core/base/random.h"
#include "core/board/board_map.h"

namespace eh {

// A slot in the copper: a strip from one place to another.
struct Slot {
    Point from;
    Point to;
    double half_width_mm = 0.5;

    [[nodiscard]] bool holds(const Point& point) const;
};

// A net with its capacitors, and what its copper is really like.
struct DrawnBoard {
    BoardMap map;
    int net = no_index;
    Point fed_at;
    int shorted = no_index;  // part
    std::vector<Slot> slots;
    double thick_from_x_mm = 0.0;
    double thick_factor = 1.0;
    double sheet_ohms = 0.5e-3;
    double short_ohms = 0.1;

    [[nodiscard]] double thickness(const Point& point) const;
};

struct DrawnBoardOptions {
    double closest_parts_mm = 3.0;
    int other_parts = 0;  // that do not touch the net, strewn between
};

// Deterministic for the state of `random`.
DrawnBoard draw_board(Random& random, const DrawnBoardOptions& options = {});

}  // namespace eh
