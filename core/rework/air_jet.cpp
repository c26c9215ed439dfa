// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/air_jet.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <numbers>

namespace eh {
namespace {

constexpr double kelvin_at_zero = 273.15;
constexpr double room_c = 25.0;
constexpr double gas_constant_air = 287.05;  // J/kg/K
constexpr double atmosphere_pa = 101325.0;
constexpr double core_diameters = 6.0;
constexpr double warm_diameters = 1.5;

double sutherland(double kelvin, double at_zero, double constant) {
    return at_zero * std::pow(kelvin / kelvin_at_zero, 1.5) * (kelvin_at_zero + constant) /
           (kelvin + constant);
}

double core_warmth(const Nozzle& nozzle) {
    return std::min(1.0, core_diameters * nozzle.diameter_m / nozzle.distance_m);
}

}  // namespace

Air air_at(double celsius) {
    const double kelvin = celsius + kelvin_at_zero;
    Air air;
    air.density = atmosphere_pa / (gas_constant_air * kelvin);
    air.viscosity = sutherland(kelvin, 1.716e-5, 110.4);
    air.conductivity = sutherland(kelvin, 0.0241, 194.0);
    const double specific_heat = 1005.0 + 0.1 * std::max(0.0, kelvin - 300.0);
    air.prandtl = specific_heat * air.viscosity / air.conductivity;
    return air;
}

double jet_reynolds(const Nozzle& nozzle) {
    // The pump moves room air; the same mass leaves the nozzle hot.
    const double mass = nozzle.litres_a_minute / 60000.0 * air_at(room_c).density;
    return 4.0 * mass / (std::numbers::pi * nozzle.diameter_m * air_at(nozzle.set_c).viscosity);
}

double jet_heat_transfer(const Nozzle& nozzle, double radius_m) {
    const double d_over_r = std::clamp(nozzle.diameter_m / radius_m, 1.0 / 7.5, 1.0 / 2.5);
    const double h_over_d = std::clamp(nozzle.distance_m / nozzle.diameter_m, 2.0, 12.0);
    const double reynolds = jet_reynolds(nozzle);
    const Air film = air_at(0.5 * (nozzle.set_c + room_c));
    const double shape = d_over_r * (1.0 - 1.1 * d_over_r) / (1.0 + 0.1 * (h_over_d - 6.0) * d_over_r);
    const double flow = 2.0 * std::sqrt(reynolds) * std::sqrt(1.0 + 0.005 * std::pow(reynolds, 0.55));
    return shape * flow * std::pow(film.prandtl, 0.42) * film.conductivity / nozzle.diameter_m;
}

double jet_warmth(const Nozzle& nozzle, double radius_m) {
    const double near = warm_diameters * nozzle.diameter_m;
    return core_warmth(nozzle) * (radius_m <= near ? 1.0 : near / radius_m);
}

double jet_warmth(const Nozzle& nozzle, double inner_m, double outer_m) {
    assert(inner_m >= 0.0 && inner_m < outer_m);
    // Area mean of 1 inside `near` and near / r outside.
    const double near = warm_diameters * nozzle.diameter_m;
    const auto integral = [&](double r) {
        return r <= near ? 0.5 * r * r : 0.5 * near * near + near * (r - near);
    };
    const double area = 0.5 * (outer_m * outer_m - inner_m * inner_m);
    return core_warmth(nozzle) * (integral(outer_m) - integral(inner_m)) / area;
}

}  // namespace eh
