// SPDX-License-Identifier: GPL-3.0-or-later
// Netlists and boards: what is read is written in the program's own form and read again as the same.
#include <cmath>
#include <sstream>

#include "core/board/board_json.h"
#include "core/board/net_paths.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    const std::string text = fuzz::text_of(data, size);
    std::istringstream file(text);
    const auto found = size > 0 && data[0] == '{' ? parse_board(text, "fuzz") : read_ipc356(file, "fuzz");
    if (!found)
        return 0;
    const BoardMap& map = found->map;
    for (const Pad& pad : map.pads())
        fuzz::demand(!pad.place || (std::isfinite(pad.place->x_mm) && std::isfinite(pad.place->y_mm)));
    for (int net = 0; net < static_cast<int>(map.nets().size()); ++net)
        fuzz::demand(!nets_reached(map, net, [&](int part) { return carries_on(map, part); }).empty());
    return 0;
}
