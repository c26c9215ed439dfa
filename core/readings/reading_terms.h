// SPDX-License-Identifier: GPL-3.0-or-later
// What a reading brings to the weighing of suspects that is the same whatever is at fault.
#pragma once

#include <array>
#include <string>

namespace eh {

// Share of a broad spread of ohms that is over the multimeter's limit.
inline constexpr double broad_ol_share = 0.4;

struct ReadingTerms {
    double broad = 1.0;         // density of a broad spread over all that a bench can show
    double broad_values = 1.0;  // of its numbers alone
    // Density of the broad spread of its first number, where that may mean nothing while the rest does: the
    // volts and amps of a bench supply say little of a short that is no resistor, the part that gets warm all
    // the same. 0: the reading means something as a whole or not at all.
    double broad_first = 0.0;
    int word = -1;  // the word seen, -1 where the reading has none
    int words = 1;  // how many words there are
    // Quantities whose quirks it shares with other readings; "" where there is none.
    std::string word_channel;
    std::array<std::string, 2> channels;
};

}  // namespace eh
