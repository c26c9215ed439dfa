// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/wire.h"

#include <cmath>
#include <numbers>

namespace eh {

double awg_diameter_m(double gauge) {
    return 0.127e-3 * std::pow(92.0, (36.0 - gauge) / 39.0);
}

double copper_resistivity(double celsius) {
    return 1.7241e-8 * (1.0 + 0.00393 * (celsius - 20.0));
}

double wire_ohms(double gauge, double length_m, double celsius) {
    const double radius_m = 0.5 * awg_diameter_m(gauge);
    return copper_resistivity(celsius) * length_m / (std::numbers::pi * radius_m * radius_m);
}

}  // namespace eh
