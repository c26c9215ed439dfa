// SPDX-License-Identifier: GPL-3.0-or-later
// Preferred numbers of IEC 60063: the values in which resistors and capacitors are made.
#pragma once

#include <vector>

namespace eh {

enum class Series { e3 = 3, e6 = 6, e12 = 12, e24 = 24, e48 = 48, e96 = 96, e192 = 192 };

// The values of a decade, rising, from 1 (1 included) below 10. Series to E24 are the standard's table with
// two digits; the finer ones are 10^(i/n) rounded to three digits, with 9.20 in place of 9.19 (as the
// standard's table has it).
const std::vector<double>& decade(Series series);

// The value of the series nearest to `value` > 0 by ratio, of any decade.
double nearest_preferred(double value, Series series);

// Whether it is a value of the series, within a tenth of a percent.
bool is_preferred(double value, Series series);

}  // namespace eh
