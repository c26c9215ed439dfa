// SPDX-License-Identifier: GPL-3.0-or-later
// Which resistor to fit: from the drawer, alone or two together, close enough for what it does.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/parts/stock.h"

namespace eh {

// What a resistor is there for decides how exact it must be. Tolerances are common practice.
enum class ResistorRole { identification, current_sense, divider, pull_up, link };
inline constexpr int resistor_role_count = 5;

struct RoleDemand {
    ResistorRole role = ResistorRole::pull_up;
    std::string title;
    double tolerance = 0.1;  // that the function stands, as a share of the value
    std::string why;
};
// What a resistor in this role must hold.
RoleDemand demand_of(ResistorRole role);

enum class Joined { alone, in_series, in_parallel };

struct ResistorChoice {
    Joined joined = Joined::alone;
    std::vector<std::size_t> parts;  // indices in the stock; the same twice where it has two
    double ohms = 0.0;
    double deviation = 0.0;    // (ohms - wanted) / wanted
    double worst = 0.0;        // largest deviation with the tolerances of the parts (1 % where none is given)
    bool good_enough = false;  // worst within the role's tolerance
};

// The `most` best ways to make `wanted_ohms` > 0 from resistors at hand (count > 0): one, or two in series or
// in parallel; good enough before not, one part before two, then nearest. Refuses values outside 1 mohm to
// 1 Gohm and stocks without resistors.
Result<std::vector<ResistorChoice>> choose_resistors(const Stock& stock, double wanted_ohms,
                                                     ResistorRole role, std::size_t most = 8);

}  // namespace eh
