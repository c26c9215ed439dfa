// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/design_variety.h"

#include <algorithm>

namespace eh {
namespace {

constexpr ByHabit<const char*> habit_names{
    "acknowledges_without_program", "asks_without_partners",       "rd_needs_power",
    "path_closes_at_5_volts",       "rests_until_pressed",         "deep_pack_blocks_start",
    "five_volts_gate_start",        "charger_drives_input_switch", "limit_is_silent",
    "always_on_gates_five_volts",   "asks_once_rail_is_up",        "rail_follows_pack",
    "rail_rests_low_without_pack",  "gate_waits_for_pack",         "five_volts_with_machine",
    "p_channel_switches",           "controllers_on_always_on",    "controllers_on_five_volts",
    "always_on_from_input",         "switch_opens_at_short"};

}  // namespace

std::optional<Habit> habit_from(const std::string& name) {
    const auto found = std::find(habit_names.begin(), habit_names.end(), name);
    if (found == habit_names.end())
        return std::nullopt;
    return static_cast<Habit>(found - habit_names.begin());
}

}  // namespace eh
