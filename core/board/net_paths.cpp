// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/net_paths.h"

#include <algorithm>
#include <string>

#include "core/board/designator.h"

namespace eh {
namespace {

constexpr std::size_t plane_pads = 200;  // a net of more is a plane

}  // namespace

bool carries_on(const BoardMap& map, int part) {
    const std::string letters = designator_of(map.part(part).name);
    return (letters == "L" || letters == "FB" || letters == "F" || letters == "RS") &&
           map.part(part).fitted && map.nets_of(part).size() == 2;
}

std::vector<NetReach> nets_reached(const BoardMap& map, int net,
                                   const std::function<bool(int part)>& bridges) {
    std::vector<NetReach> reached{{net, no_index, no_index, 0}};
    std::vector<char> known(map.nets().size(), 0);
    known[static_cast<std::size_t>(net)] = 1;
    for (std::size_t at = 0; at < reached.size(); ++at) {
        const NetReach here = reached[at];
        if (map.net(here.net).pads.size() > plane_pads && at > 0)
            continue;
        for (const int part : map.parts_on(here.net)) {
            if (!bridges(part))
                continue;
            for (const int next : map.nets_of(part)) {
                if (known[static_cast<std::size_t>(next)] != 0)
                    continue;
                known[static_cast<std::size_t>(next)] = 1;
                reached.push_back({next, part, here.net, here.hops + 1});
            }
        }
    }
    return reached;
}

}  // namespace eh
