// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/design_variety.h"

#include <algorithm>
#include <cmath>

namespace eh {
namespace {

constexpr ByHabit<const char*> habit_names{"acknowledges_without_program",
                                           "asks_without_partners",
                                           "rd_needs_power",
                                           "path_closes_at_5_volts",
                                           "rests_until_pressed",
                                           "deep_pack_blocks_start",
                                           "five_volts_gate_start",
                                           "charger_drives_input_switch",
                                           "limit_is_silent",
                                           "always_on_gates_five_volts",
                                           "asks_once_rail_is_up",
                                           "rail_follows_pack",
                                           "rail_rests_low_without_pack",
                                           "gate_waits_for_pack",
                                           "five_volts_with_machine",
                                           "p_channel_switches",
                                           "controllers_on_always_on",
                                           "controllers_on_five_volts",
                                           "always_on_from_input",
                                           "switch_opens_at_short",
                                           "five_volts_when_attached",
                                           "rail_backs_into_input",
                                           "enable_from_always_on",
                                           "charger_drives_sink_path",
                                           "regulators_fold_back",
                                           "charger_spares_weak_input",
                                           "switched_rail_comes_early",
                                           "draws_at_5_volts"};

}  // namespace

std::string to_text(Habit habit) {
    return habit_names[static_cast<std::size_t>(habit)];
}

std::optional<Habit> habit_from(const std::string& name) {
    const auto found = std::find(habit_names.begin(), habit_names.end(), name);
    if (found == habit_names.end())
        return std::nullopt;
    return static_cast<Habit>(found - habit_names.begin());
}

ByHabit<double> shares_after(const ByHabit<double>& shares, const ByHabit<double>& learnt) {
    constexpr double least = 0.02;
    ByHabit<double> after = shares;
    for (std::size_t h = 0; h < habit_count; ++h) {
        const double met = shares[h];
        if (met <= 0.0 || met >= 1.0 || learnt[h] == 0.0)
            continue;
        const double logit = std::log(met / (1.0 - met)) + learnt[h];
        after[h] = std::clamp(1.0 / (1.0 + std::exp(-logit)), least, 1.0 - least);
    }
    return after;
}

}  // namespace eh
