// SPDX-License-Identifier: GPL-3.0-or-later
// What is printed on a resistor, both ways.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace eh {

enum class MarkingScheme {
    three_digits,  // 472 = 47 * 10^2
    four_digits,   // 4701 = 470 * 10^1
    letter,        // 4k7, 0R22, R047 (IEC 60062)
    eia96,         // 01A = 100, two digits for the value and a letter for the decade (EIA-96)
};

struct MarkingMeaning {
    MarkingScheme scheme = MarkingScheme::letter;
    double ohms = 0.0;
    std::optional<double>
        tolerance;  // that the scheme implies: EIA-96 1 %, three digits 5 %, four digits 1 %
};

// For people: the standard that the marking follows.
std::string describe(MarkingScheme scheme);

// All that a marking can mean, the usual meaning first. "0" and "000" are links of 0 ohm. Refuses what is
// printed on no resistor, with a sentence.
Result<std::vector<MarkingMeaning>> read_marking(std::string_view marking);

// The marking of a value, or none where the scheme cannot write it exactly (within 0.05 %): three digits need
// two significant ones and at least 10 ohm, EIA-96 a value of E96 between 1 ohm and 97.6 megohm.
std::optional<std::string> write_marking(double ohms, MarkingScheme scheme);

}  // namespace eh
