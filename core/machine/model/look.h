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

// What a flaw is, where somebody says it closer than that.
enum class Flaw { none, melted, swollen, wet, bent, missing, worn, loose, cracked, bridged };
inline constexpr int flaw_count = 10;
// What a flaw counts as: a bent pin as broken, a melted plug as burnt. Sound for none.
Look look_of(Flaw flaw);

// Where on an inlet something is seen; none where it is the part as a whole.
enum class Contact { none, power, cc1, cc2, id, sense, signal, ground_pins };
inline constexpr int contact_count = 8;

// By Look, summing to 1.
using LookShares = std::array<double, look_count>;

// "sound", "burnt", "corroded", "broken", "dirty".
std::string to_text(Look look);
std::optional<Look> look_from(const std::string& text);
// "melted", "swollen", ...; "" for none.
std::string to_text(Flaw flaw);
// nullopt for words that are none.
std::optional<Flaw> flaw_from(const std::string& text);
// "power", "cc1", "cc2", "id", "sense", "signal", "ground"; "" for none.
std::string to_text(Contact contact);
// nullopt for words that are none.
std::optional<Contact> contact_from(const std::string& text);
// For people: "power contacts", "CC1 contact"; "" for none.
std::string describe(Contact contact);

}  // namespace eh
