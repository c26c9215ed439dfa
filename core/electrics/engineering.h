// SPDX-License-Identifier: GPL-3.0-or-later
// Engineering notation: the only place where numbers with units are read from and written as text.
//
// Inside the core every quantity is a double in SI units; prefixes exist only here, at the edge.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace eh {

enum class Unit { none, volts, amps, ohms, watts, kelvin, celsius, seconds, farads };

// Symbol as shown beside a number ("V", "Ω", ...); empty for Unit::none.
std::string_view symbol(Unit unit);

// A typed value. `over_limit` is the ohmmeter's "OL": above its range, so no number.
struct Quantity {
    double value = 0.0;
    Unit unit = Unit::none;
    bool over_limit = false;
};

// Reads one number as a technician writes it: "3.3", "3,3", "3r3", "0R22", "4k7", "140 mA", "12.6v",
// "2.2 ohm", "OL". Letter codes follow IEC 60062 (letter in the place of the decimal point).
// The unit is Unit::none when none is written. Refuses anything else with a sentence; never locale-dependent:
// point and comma are both decimal marks, and there are no thousands separators.
Result<Quantity> parse_quantity(std::string_view text);

// As parse_quantity, but the value must be usable as `unit`: an unwritten unit is taken as `unit`, a
// different one is refused, and so is a value outside what a bench can hold (negative ohms, volts beyond
// 1000, amps beyond 100, ohms beyond 1e9, kelvin and celsius beyond 1000).
Result<Quantity> parse_quantity_as(std::string_view text, Unit unit);

// Checks a value against the limits named above; `place` goes into the error.
Outcome check_plausible(double value, Unit unit, const std::string& place);

// Writes with an SI prefix and `digits` significant digits: 0.1234 A -> "123 mA", 3300 Ω -> "3.30 kΩ".
// Volts stay in volts from 0.1 V upward, as meters show them. Non-finite values give "–".
std::string format_quantity(double value, Unit unit, int digits = 3);

}  // namespace eh
