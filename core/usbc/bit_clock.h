// SPDX-License-Identifier: GPL-3.0-or-later
// The bits of biphase-mark code out of the moments at which a line changes: a change at every beginning of a
// bit, one more in the middle of a 1.
//
// The place of a bit's beginning is followed like a clock, not measured from one change to the next: a
// sampled change lies up to one sample late, and two such delays in a row would make a half bit of a whole
// one. So a line that is sampled 1.2 million times a second (four samples a bit) can still be read. Rate and
// place come from the preamble, in which every three changes take two bits.
#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace eh::pd {

inline constexpr double nominal_bit_s = 1.0 / 300e3;

struct RecoveredBits {
    std::vector<std::uint8_t> bits;
    // How many bits there were when a beginning of a bit, or its middle, was last missed; 0 for never.
    std::size_t last_slip = 0;
};

// The bits between these moments (s, none before the one in front of it), of one packet without a pause. Bit
// rates of 240 to 370 kbit/s are followed. What stands before the preamble is left out; without a preamble
// the nominal rate is where the clock starts.
RecoveredBits recover_bits(std::span<const double> changes_s);

}  // namespace eh::pd
