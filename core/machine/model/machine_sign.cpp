// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/machine_sign.h"

#include "core/base/word_list.h"

namespace eh {
namespace {

// In the order of the enumerations; job files and data files keep these words for good.
constexpr std::array<const char*, machine_sign_count> signs{"nothing", "dim_lamp", "lamp", "blinking",
                                                            "greets",  "tries",    "runs"};
constexpr std::array<const char*, sign_state_count> states{
    "off", "stuck", "waits_on_pack", "waits_on_adapter", "restarts", "runs"};

}  // namespace

std::string to_text(MachineSign sign) {
    return signs[static_cast<std::size_t>(sign)];
}

std::optional<MachineSign> machine_sign_from(const std::string& text) {
    return value_of_word<MachineSign>(signs, text);
}

std::string to_text(SignState state) {
    return states[static_cast<std::size_t>(state)];
}

}  // namespace eh
