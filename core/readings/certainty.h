// SPDX-License-Identifier: GPL-3.0-or-later
// How sure one can be of the part that is warm, by what it was found with (common practice: alcohol dries
// first on the warm part, a finger covers several).
#pragma once

namespace eh {

inline constexpr double alcohol_certainty = 0.7;
inline constexpr double finger_certainty = 0.4;

}  // namespace eh
