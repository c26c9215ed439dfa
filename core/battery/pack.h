// SPDX-License-Identifier: GPL-3.0-or-later
// A battery pack by its cells: rest volts, charge state, resistance.
#pragma once

#include <utility>
#include <vector>

#include "core/machine/model/chemistry.h"

namespace eh {

inline constexpr double hour_s = 3600.0;

struct Pack {
    Chemistry cells;
    int in_series = 3;
    double capacity_wh = 50.0;
    double ohms_a_cell = 0.05;  // of a usual cell pair with its share of the leads (estimate)

    [[nodiscard]] double nominal_volts() const { return in_series * cells.nominal_volts; }
    [[nodiscard]] double full_volts() const { return in_series * cells.full_volts; }
    [[nodiscard]] double capacity_ah() const { return capacity_wh / nominal_volts(); }
    [[nodiscard]] double ohms() const { return in_series * ohms_a_cell; }
};

// Volts of the pack at rest at a charge state of 0 to 1 (clamped): linear between the points of the cell's
// table; a cell without a table goes straight from empty to full.
double rest_volts(const Pack& pack, double charge_state);

// The charge state, 0 to 1, whose rest volts these are; clamped.
double charge_state(const Pack& pack, double rest_volts);

// Change of rest volts for a change of charge state, volts over the whole range, at that state.
double rest_slope(const Pack& pack, double charge_state);

}  // namespace eh
