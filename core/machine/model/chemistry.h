// SPDX-License-Identifier: GPL-3.0-or-later
// Cells of battery packs (data/chemistries.json).
#pragma once

#include <string>
#include <utility>
#include <vector>

namespace eh {

struct Chemistry {
    std::string id;
    std::string title;
    double nominal_volts = 0.0;  // of one cell
    double full_volts = 0.0;
    double empty_volts = 0.0;
    std::vector<std::pair<double, double>> rest_volts;  // charge state 0 to 1, volts at rest; may be empty
};

}  // namespace eh
