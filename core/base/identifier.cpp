// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/identifier.h"

#include <algorithm>

#include "core/base/text.h"

namespace eh {

bool fits_identifier(std::string_view text) {
    constexpr std::string_view alphabet = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_.";
    return !text.empty() && text.size() <= longest_identifier && text.front() != '.' &&
           text.find_first_not_of(alphabet) == std::string_view::npos;
}

Error bad_identifier(std::string_view text, std::string place) {
    return refused(in_quotes(text) + " cannot be an id here: an id is 1 to " +
                       integer_text(longest_identifier) +
                       " letters, digits, -, _ and points, and does not begin with a point",
                   std::move(place));
}

}  // namespace eh
