// SPDX-License-Identifier: GPL-3.0-or-later
// Hot air from a round nozzle onto a board: how strongly it heats, and how warm it still is out there.
//
// Temperatures degrees Celsius, lengths metres, heat transfer watts per square metre and kelvin.
#pragma once

namespace eh {

struct Air {
    double density = 0.0;       // kg/m3
    double viscosity = 0.0;     // Pa s
    double conductivity = 0.0;  // W/m/K
    double prandtl = 0.0;
};

// Dry air at one atmosphere: ideal gas; Sutherland's laws for viscosity (1.716e-5 Pa s, 273.15 K, 110.4 K)
// and conductivity (0.0241 W/m/K, 273.15 K, 194 K) (White, Viscous Fluid Flow); specific heat rising from
// 1005 by 0.1 a kelvin over 300 K (fit to tables).
Air air_at(double celsius);

struct Nozzle {
    double set_c = 350.0;           // air as it leaves the nozzle
    double litres_a_minute = 40.0;  // at room temperature
    double diameter_m = 0.008;
    double distance_m = 0.015;  // nozzle to board
};

// Mean heat transfer over a disc of `radius_m` under the nozzle: Martin's correlation for one round jet
// (1977; Incropera, Fundamentals of Heat and Mass Transfer, section on impinging jets): Nu / Pr^0.42 = (D/r)
// (1 - 1.1 D/r) / (1 + 0.1 (H/D - 6) D/r) * 2 sqrt(Re) sqrt(1 + 0.005 Re^0.55). Stated for 2,000 <= Re <=
// 400,000, 2 <= H/D <= 12 and 2.5 <= r/D <= 7.5. Outside, H/D and r/D are taken at the nearer end; Re is used
// down to nothing, where the error is some tens of percent.
double jet_heat_transfer(const Nozzle& nozzle, double radius_m);

// Reynolds number of the jet at the nozzle.
double jet_reynolds(const Nozzle& nozzle);

// What is left of the excess temperature of the air at this radius: 1 within 1.5 diameters, then as 1.5 D / r
// (a radial wall jet that draws in room air; order of magnitude from memory), and as 6 D / H where the nozzle
// is farther than its core of six diameters.
double jet_warmth(const Nozzle& nozzle, double radius_m);

// Mean of jet_warmth over the ring between two radii. Requires 0 <= inner < outer.
double jet_warmth(const Nozzle& nozzle, double inner_m, double outer_m);

}  // namespace eh
