// SPDX-License-Identifier: GPL-3.0-or-later
// How far machines of other makers are from what a topology says: nobody knows the design of the machine on
// the bench. Read from data/designs.
#pragma once

#include <array>
#include <cstddef>
#include <optional>
#include <string>
#include <vector>

namespace eh {

// Of a net, as one standard deviation. All readings of one machine are off by the same, so that the first of
// them tells what the others will be (core/prediction/expectation.h).
struct NetVariety {
    double volts_share = 0.0;  // of its volts
    double ohms_ln = 0.0;      // of the logarithm of its ohms to ground where no fault changes them
};

// What a part makes of the net at one of its pins.
struct PinVariety {
    std::string kind;
    std::string pin;
    NetVariety net;
};

// What some makers' machines do and others' do not. Which of them one machine has is drawn once, for all of
// its hypotheses alike.
enum class Habit {
    acknowledges_without_program,  // a controller without its program acknowledges what it hears
    asks_without_partners,         // a controller without the others of its chain asks all the same
    rd_needs_power,                // Rd conducts under power only: an ohmmeter hardly sees it
    path_closes_at_5_volts,        // current may flow through the sink path before there is a contract
    rests_until_pressed,           // nobody has pressed its button
    deep_pack_blocks_start,        // does not start before a deeply empty pack has taken some charge
    five_volts_gate_start,         // does not start without its 5 V rail
    charger_drives_input_switch,   // a dead charger chip keeps the input switch open
    limit_is_silent,               // says no more than "not charging" where a pack is full or held by a limit
    always_on_gates_five_volts,    // the 5 V rail waits for the always-on supply
    // The path lets a limited current through at 5 V, the charger works from that, and the controllers ask
    // for more only when the rail is up.
    asks_once_rail_is_up,
    rail_follows_pack,            // the charger makes what the pack has and a little more
    rail_rests_low_without_pack,  // with no pack, it makes the least the machine runs on
    gate_waits_for_pack,          // the battery gate stays open where no pack answers
    five_volts_with_machine,      // the 5 V rail is on while the machine runs, unless the start waits for it
    p_channel_switches,           // the input's switches are driven below their input, not above
    controllers_on_always_on,     // the always-on supply feeds the controllers too, through a diode
    controllers_on_five_volts,    // the 5 V rail feeds them, and no port does
    always_on_from_input,         // the charger's input feeds the always-on supply too
    switch_opens_at_short,        // the input's switches open at a short behind them
    five_volts_when_attached,     // the 5 V rail is on while something hangs on a port that wants it
    rail_backs_into_input,        // a diode of the charger's switches leads from the rail back to its input
    enable_from_always_on,        // the always-on supply enables the charger, not a divider of its input
    charger_drives_sink_path,     // a dead charger chip keeps the sink paths of its ports open
    regulators_fold_back,         // the controllers' regulators give the less the lower their output falls
    charger_spares_weak_input,    // the charger asks for no more where its input sags
    switched_rail_comes_early,    // the switched 3.3 V rail is up before the processor side starts
    draws_at_5_volts,             // takes a few watts from a charger that has no more than 5 V for it
};
inline constexpr std::size_t habit_count = 28;

template <typename Value>
using ByHabit = std::array<Value, habit_count>;

// As data and job files write it.
std::string to_text(Habit habit);
// The other way round; nothing where no habit has that name.
std::optional<Habit> habit_from(const std::string& name);

// What a machine with a habit does, and one without it: sentences without their stops.
struct HabitWords {
    std::string has;
    std::string has_not;
};

struct DesignVariety {
    std::vector<PinVariety> pins;
    ByHabit<double> habit_shares{};  // of machines that have it
    ByHabit<HabitWords> habit_words{};
    // A machine that has the one has the other, too: controllers on the 5 V rail would never wake an empty
    // machine whose path waits for them.
    ByHabit<std::optional<Habit>> implied{};
    double amps_ln = 0.0;  // of the logarithm of what a machine draws that does not strain its charger
};

// The shares with the log of their odds raised by what was learnt of a kind of machine. What all makers do,
// or none, stays; nothing else becomes certain.
ByHabit<double> shares_after(const ByHabit<double>& shares, const ByHabit<double>& learnt);

}  // namespace eh
