// SPDX-License-Identifier: GPL-3.0-or-later
// Where the board map and the model of the machine speak of the same thing: nets by their names, parts by
// their nets and the letters of their names.
#pragma once

#include <vector>

#include "core/board/board_map.h"
#include "core/machine/model/knowledge.h"

namespace eh {

// The model's net of that name, whatever its case; nullptr when it has none.
const Net* machine_net(const BoardMap& map, int net, const Topology& topology);
// The board's net that goes by a name of the model's net; no_index when there is none.
int board_net(const BoardMap& map, const Net& net);

// The model's parts that a part of the board may be, likeliest first: they share a net with it, and its name
// begins as that kind of part's does. A rail's one capacitor in the model stands for all of the board's.
std::vector<const Block*> machine_parts(const BoardMap& map, int part, const Knowledge& knowledge,
                                        const Topology& topology);

// Nets that are built like this one, at another port for instance: the name differs in its numbers alone, and
// about as many parts of the same letters hang on both.
std::vector<int> twins_of(const BoardMap& map, int net);

}  // namespace eh
