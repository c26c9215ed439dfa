// SPDX-License-Identifier: GPL-3.0-or-later
// Words of files for the values of an enumeration, listed in its order.
#pragma once

#include <algorithm>
#include <array>
#include <optional>
#include <string_view>

namespace eh {

// The value whose word this is; nothing for a text that is none.
template <typename Enum, std::size_t count>
[[nodiscard]] std::optional<Enum> value_of_word(const std::array<const char*, count>& words,
                                                std::string_view text) {
    const auto word = std::find(words.begin(), words.end(), text);
    if (word == words.end())
        return std::nullopt;
    return static_cast<Enum>(word - words.begin());
}

}  // namespace eh
