// SPDX-License-Identifier: GPL-3.0-or-later
// A netlist of the bare board (IPC-D-356A) into a map: who is on a net.
#include <fmt/core.h>

#include <sstream>

#include "core/board/ipc356.h"

int main() {
    std::istringstream netlist(
        "P  UNITS CUST 1\n"
        "327VBUS1            C1    -1         A01X+010000Y+020000X0200Y0200R000S2\n"
        "327VBUS1            TVS1  -1         A01X+011000Y+020000X0200Y0200R000S2\n"
        "327GND              C1    -2         A01X+010000Y+021000X0200Y0200R000S2\n"
        "999\n");
    const auto board = eh::read_ipc356(netlist, "two nets");
    if (!board) {
        fmt::print("{}\n", board.error().text());
        return 1;
    }
    const eh::BoardMap& map = board->map;
    for (const int part : map.parts_on(map.find_net("VBUS1")))
        fmt::print("{}\n", map.part(part).name);
}
