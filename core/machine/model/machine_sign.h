// SPDX-License-Identifier: GPL-3.0-or-later
// Signs of life that a machine gives without a screen, and how often it gives each in each state.
#pragma once

#include <array>
#include <optional>
#include <string>

namespace eh {

enum class MachineSign {
    nothing,   // no lamp, no fan, no sound
    dim_lamp,  // a lamp glows where it should shine
    lamp,      // a lamp is lit, and nothing starts
    blinking,  // a lamp blinks, and nothing starts
    greets,    // a chime or a charging symbol as the plug goes in, and nothing starts
    tries,     // it starts and stops, over and over
    runs,      // fan or picture: it starts and stays on
};
inline constexpr int machine_sign_count = 7;

// How a machine stands as far as its signs go.
enum class SignState {
    off,               // nothing in it is fed
    stuck,             // fed, and its processor side does nothing
    waits_on_pack,     // could start; no adapter counts
    waits_on_adapter,  // could start; the adapter feeds it
    restarts,          // loses its supply again and again
    runs,
};
inline constexpr int sign_state_count = 6;

// Share of the machines in a state that give each sign; they add up to 1.
using SignShares = std::array<float, machine_sign_count>;
// Read from data/signs.json.
struct SignTable {
    std::array<SignShares, sign_state_count> of_state{};
    // Shares of the makes that call an adapter slow, and that ask for service of the battery, where the
    // others say what comes of it.
    float call_it_slow = 0.0F;
    float ask_for_service = 0.0F;
    // Of the makes, how many take the adapter for absent where nothing of it reaches the charger's input.
    float go_by_charger_input = 0.0F;
};

// "nothing", "dim_lamp", ...: the words of job files and data files.
std::string to_text(MachineSign sign);
std::optional<MachineSign> machine_sign_from(const std::string& text);
// "off", "waits_on_pack", ...
std::string to_text(SignState state);

}  // namespace eh
