// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/machine_sign.h"

#include <algorithm>

namespace eh {
namespace {

// In the order of the enumerations; job files and data files keep these words for good.
constexpr std::array<const char*, machine_sign_count> signs{"nothing",  "dim_lamp", "lamp",
                                                            "blinking", "tries",    "runs"};
constexpr std::array<const char*, sign_state_count> states{
    "off", "stuck", "waits_on_pack", "waits_on_adapter", "restarts", "runs"};

}  // namespace

std::string to_text(MachineSign sign) {
    return signs[static_cast<std::size_t>(sign)];
}

std::optional<MachineSign> machine_sign_from(const std::string& text) {
    const auto word = std::find(signs.begin(), signs.end(), text);
    if (word == signs.end())
        return std::nullopt;
    return static_cast<MachineSign>(word - signs.begin());
}

std::string to_text(SignState state) {
    return states[static_cast<std::size_t>(state)];
}

}  // namespace eh
