// SPDX-License-Identifier: GPL-3.0-or-later
// How the verdict on a net stands up: sound rails of few ohms, and shorted ones, drawn by lot with what a
// bench may know of them.
#pragma once

#include <cstdint>

namespace eh {

struct RailScore {
    int sound = 0;
    int sound_called_short = 0;
    int sound_called_low = 0;
    int sound_not_known = 0;
    int shorted = 0;
    int shorted_called_short = 0;
    int shorted_called_low = 0;
    int shorted_called_normal = 0;
};

// `tries` rails of each kind: sound ones of 0.15 to 8 ohm with 20 % from board to board, shorted ones with a
// short of a hundredth to a tenth of that beside them; a twin, up to five boards of the shop, or a model that
// may be off by a factor of two either way. Leads of 0.1 to 0.3 ohm are nulled within 30 milliohm.
// Deterministic for a seed.
RailScore evaluate_rails(int tries, std::uint64_t seed);

}  // namespace eh
