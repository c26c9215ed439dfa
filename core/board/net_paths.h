// SPDX-License-Identifier: GPL-3.0-or-later
// Where a rail goes on: over series parts that carry it from net to net.
#pragma once

#include <functional>
#include <vector>

#include "core/board/board_map.h"

namespace eh {

// A net that a rail reaches, and how.
struct NetReach {
    int net = no_index;
    int over = no_index;  // the part that carries it there; no_index for the rail itself
    int from = no_index;  // the net before that part
    int hops = 0;
};

// Whether a part is taken for one that carries a rail on: inductors, ferrite beads, fuses and sense resistors
// by their first letters (L, FB, F, RS: common practice), fitted, between exactly two nets. A sense resistor
// that is named like any other resistor has to be named by the caller.
bool carries_on(const BoardMap& map, int part);

// The nets that `net` reaches over parts for which `bridges` holds, nearest first, itself at the head; ground
// and other nets of very many pads end a path, since everything hangs on them.
std::vector<NetReach> nets_reached(const BoardMap& map, int net,
                                   const std::function<bool(int part)>& bridges);

}  // namespace eh
