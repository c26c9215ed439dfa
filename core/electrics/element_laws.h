// SPDX-License-Identifier: GPL-3.0-or-later
// The current law of each element with its derivatives.
//
// The same smooth building blocks serve the solver and the netlist export, so that an outside simulator
// checks these very equations.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>

#include "core/electrics/circuit.h"

namespace eh::laws {

// Boltzmann constant times 300.15 K over the elementary charge (CODATA): thermal voltage at 27 °C.
inline constexpr double thermal_volts = 1.380649e-23 * 300.15 / 1.602176634e-19;

// A value with its derivatives by up to two controlling voltages (forward differentiation).
struct Dual {
    double value = 0.0;
    std::array<double, 2> slope{0.0, 0.0};

    constexpr Dual(double v = 0.0) : value(v) {}
    constexpr Dual(double v, double d0, double d1) : value(v), slope{d0, d1} {}
};

inline Dual operator+(const Dual& a, const Dual& b) {
    return {a.value + b.value, a.slope[0] + b.slope[0], a.slope[1] + b.slope[1]};
}
inline Dual operator-(const Dual& a, const Dual& b) {
    return {a.value - b.value, a.slope[0] - b.slope[0], a.slope[1] - b.slope[1]};
}
inline Dual operator*(const Dual& a, const Dual& b) {
    return {a.value * b.value, a.slope[0] * b.value + a.value * b.slope[0],
            a.slope[1] * b.value + a.value * b.slope[1]};
}
inline Dual operator/(const Dual& a, const Dual& b) {
    const double inverse = 1.0 / b.value;
    const double quotient = a.value * inverse;
    return {quotient, (a.slope[0] - quotient * b.slope[0]) * inverse,
            (a.slope[1] - quotient * b.slope[1]) * inverse};
}
inline Dual sqrt(const Dual& a) {
    const double root = std::sqrt(a.value);
    const double factor = root > 0.0 ? 0.5 / root : 0.0;
    return {root, a.slope[0] * factor, a.slope[1] * factor};
}

// max(x, 0) rounded over `width`.
inline Dual smooth_positive(const Dual& x, double width) {
    return 0.5 * (x + sqrt(x * x + Dual(width * width)));
}
// max(x, 0) with an exponential tail of `width`: cuts off like a diode, so that what is left over cannot lift
// an unloaded node by more than some widths.
inline Dual soft_positive(const Dual& x, double width) {
    const double z = x.value / width;
    constexpr double beyond_rounding = 40.0;  // exp(-40) is lost beside 1 in a double
    if (z > beyond_rounding)
        return x;
    if (z < -beyond_rounding)
        return {};
    const double tail = std::exp(-std::abs(z));
    const double value = std::max(x.value, 0.0) + width * std::log1p(tail);
    const double slope = z > 0.0 ? 1.0 / (1.0 + tail) : tail / (1.0 + tail);
    return {value, x.slope[0] * slope, x.slope[1] * slope};
}
// min(a, b) rounded over `width`.
inline Dual smooth_min(const Dual& a, const Dual& b, double width) {
    const Dual gap = a - b;
    return 0.5 * (a + b - sqrt(gap * gap + Dual(width * width)));
}

// Rounding widths. They bound the error against the sharp-cornered law: at most width/2 at the corner.
inline constexpr double volts_rounding = 0.02;
inline constexpr double cutoff_rounding_share =
    0.005;                                            // of the current limit, where a source stops delivering
inline constexpr double limit_rounding_share = 0.01;  // of the current limit
inline constexpr double converter_floor_volts = 0.5;  // below it a converter's input lets go
// Beyond this current, which no board survives, a diode continues along its tangent: the exponential would
// throw Newton's method far off whenever a step overshoots.
inline constexpr double diode_linear_amps = 30.0;

// Each law returns the current that flows into the element at its first node (through to its second or to
// ground), given its controlling voltages.

inline Dual diode_amps(const Diode& d, double volts) {
    const double scale = d.emission * thermal_volts;
    const double x = volts / scale;
    const double e = std::exp(x);
    if (d.saturation_amps * e > diode_linear_amps) {
        const double linear_beyond = std::log(diode_linear_amps / d.saturation_amps);
        return {diode_linear_amps * (1.0 + x - linear_beyond) - d.saturation_amps, diode_linear_amps / scale,
                0.0};
    }
    return {d.saturation_amps * (e - 1.0), d.saturation_amps * e / scale, 0.0};
}

inline Dual punch_through_amps(const PunchThrough& p, double volts) {
    const Dual v{volts, 1.0, 0.0};
    const Dual ratio = v / Dual(p.knee_volts);
    return v / Dual(p.ohms) * (Dual(1.0) + ratio * ratio);
}

// What is let through at these volts of the output: all of the limit at its full volts, a share of it at 0 V.
inline Dual folded_limit(double limit_amps, double fold, const Dual& volts, double full_volts) {
    if (fold >= 1.0)
        return {limit_amps};
    const Dual share = smooth_min(smooth_positive(volts / Dual(full_volts), limit_rounding_share), Dual(1.0),
                                  limit_rounding_share);
    return Dual(limit_amps) * (Dual(fold) + Dual(1.0 - fold) * share);
}

// Delivered by the source at its plus terminal (so the current into plus is the negative of it).
inline Dual limited_source_amps(const LimitedSource& s, double volts) {
    const Dual v{volts, 1.0, 0.0};
    if (s.volts <= 0.0)
        return {};
    const Dual wanted =
        soft_positive((Dual(s.volts) - v) / Dual(s.ohms), cutoff_rounding_share * s.limit_amps);
    return smooth_min(wanted, folded_limit(s.limit_amps, s.fold, v, s.volts),
                      limit_rounding_share * s.limit_amps);
}

inline Dual power_load_amps(const ConstantPowerLoad& p, double volts) {
    const Dual v{volts, 1.0, 0.0};
    return Dual(p.watts) * v / (v * v + Dual(p.floor_volts * p.floor_volts));
}

struct RegulatorAmps {
    Dual in;   // into the input terminal; slopes by (in, out) volts
    Dual out;  // delivered at the output terminal
};

// The volts that a regulator holds without load, given its input.
inline Dual regulator_target(const Regulator& r, const Dual& in) {
    const Dual target = smooth_positive(smooth_min(Dual(r.volts), in - Dual(r.dropout_volts), volts_rounding),
                                        volts_rounding);
    // At the cut-off the rounded target is some mV above 0; taking it off keeps a dead input from feeding.
    return target - Dual(volts_rounding / 2.0);
}

inline RegulatorAmps regulator_amps(const Regulator& r, double in_volts, double out_volts) {
    if (r.volts <= 0.0)
        return {};
    const Dual in{in_volts, 1.0, 0.0};
    const Dual out{out_volts, 0.0, 1.0};
    const Dual wanted =
        soft_positive((regulator_target(r, in) - out) / Dual(r.ohms), cutoff_rounding_share * r.limit_amps);
    const Dual delivered = smooth_min(wanted, folded_limit(r.limit_amps, r.fold, out, r.volts),
                                      limit_rounding_share * r.limit_amps);
    const Dual quiescent =
        Dual(r.quiescent_amps) * in / sqrt(in * in + Dual(converter_floor_volts * converter_floor_volts));
    if (r.efficiency <= 0.0)
        return {delivered + quiescent, delivered};
    const Dual output_watts = smooth_positive(out, volts_rounding) * delivered;
    const Dual drawn = output_watts / Dual(r.efficiency) * in /
                       (in * in + Dual(converter_floor_volts * converter_floor_volts));
    return {drawn + quiescent, delivered};
}

}  // namespace eh::laws
