// SPDX-License-Identifier: GPL-3.0-or-later
// How much memory this process holds.
#pragma once

#include <fstream>
#include <string>

namespace eh::test {

// Kilobytes that are in memory.
inline long resident_kilobytes() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.rfind("VmRSS:", 0) == 0)
            return std::stol(line.substr(6));
    }
    return 0;
}

}  // namespace eh::test
