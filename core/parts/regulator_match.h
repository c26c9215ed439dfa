// SPDX-License-Identifier: GPL-3.0-or-later
// Whether another regulator or switch may stand in for the one that failed.
#pragma once

#include <string>
#include <vector>

#include "core/parts/stock.h"

namespace eh {

struct RegulatorNeed {
    std::string package;
    std::string pinout;
    double in_volts = 0.0;   // highest that it meets
    double out_volts = 0.0;  // 0: a switch, or not known
    double amps = 0.0;       // that its load takes
};

struct RegulatorMatch {
    std::size_t part = 0;  // index in the stock
    bool same_part = false;
    bool fits = false;  // nothing speaks against it
    std::vector<std::string> against;
    std::vector<std::string> unknown;  // what is not known of it and must be looked up
};

// Regulators of the stock (count > 0) against what is needed; those that fit first, then by how little speaks
// against them. `name` is the original's name: a part of that name, new, always fits (not programmed; common
// practice). Rated volts must exceed what it meets by a fifth, rated amps what the load takes by a quarter,
// output volts agree within 1 %.
std::vector<RegulatorMatch> match_regulators(const Stock& stock, const std::string& name,
                                             const RegulatorNeed& need);

}  // namespace eh
