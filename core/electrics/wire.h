// SPDX-License-Identifier: GPL-3.0-or-later
// Copper wire: gauge to diameter to ohms.
#pragma once

namespace eh {

// Diameter of an American wire gauge: 0.127 mm at gauge 36, 92^(1/39) a step (ASTM B258, from memory).
double awg_diameter_m(double gauge);

// Resistivity of copper, ohm metre: 1.7241e-8 at 20 °C, 0.00393 more per kelvin (International Annealed
// Copper Standard, IEC 60028).
double copper_resistivity(double celsius = 20.0);

// Ohms of a solid wire.
double wire_ohms(double gauge, double length_m, double celsius = 20.0);

}  // namespace eh
