// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/look.h"

namespace eh {
namespace {

constexpr std::array<const char*, look_count> look_names{"sound", "burnt", "corroded", "broken", "dirty"};

}  // namespace

std::string to_text(Look look) {
    return look_names[static_cast<std::size_t>(look)];
}

std::optional<Look> look_from(const std::string& text) {
    for (std::size_t i = 0; i < look_names.size(); ++i) {
        if (text == look_names[i])
            return static_cast<Look>(i);
    }
    return std::nullopt;
}

}  // namespace eh
