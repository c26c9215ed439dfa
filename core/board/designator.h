// SPDX-License-Identifier: GPL-3.0-or-later
// What kind of part a name on a board tells of.
#pragma once

#include <cctype>
#include <string>

namespace eh {

// The letters before the number, in capitals: "FB" of "fb12".
inline std::string designator_of(const std::string& part_name) {
    std::string letters;
    for (const char c : part_name) {
        if (std::isalpha(static_cast<unsigned char>(c)) == 0)
            break;
        letters += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    }
    return letters;
}

}  // namespace eh
