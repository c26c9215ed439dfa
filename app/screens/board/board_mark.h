// SPDX-License-Identifier: GPL-3.0-or-later
// Something that a search points out on the board.
#pragma once

#include <QString>

#include "core/board/board_map.h"

namespace eh {

struct BoardMark {
    enum class Look {
        fed,        // where current goes in: a triangle
        read,       // a pad that was read: a small disc
        next,       // where to go next: a dashed ring
        candidate,  // a suspected part: a ring, the thicker the likelier
        spot,       // a warm place: a cross
    };
    Look look = Look::read;
    Point place;
    QString label;
    double weight = 1.0;  // of a candidate, 0 to 1
};

}  // namespace eh
