// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen of a part under the magnifier, and how often.
#pragma once

#include <array>
#include <optional>
#include <string>

namespace eh {

enum class Look {
    sound,     // nothing to be seen
    burnt,     // heat marks, brown plastic, a hole
    corroded,  // crust, stains of liquid
    broken,    // cracked, torn, bent, loose, a joint that is not one
    dirty,     // lint, debris
};
inline constexpr int look_count = 5;

// By Look, summing to 1.
using LookShares = std::array<double, look_count>;

// "sound", "burnt", "corroded", "broken", "dirty".
std::string to_text(Look look);
std::optional<Look> look_from(const std::string& text);

}  // namespace eh
