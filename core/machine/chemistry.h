// Cells of battery packs (data/chemistries.json).
#pragma once

#include <string>

namespace eh {

struct Chemistry {
    std::string id;
    std::string title;
    double nominal_volts = 0.0;  // of one cell
    double full_volts = 0.0;
    double empty_volts = 0.0;
};

}  // namespace eh
