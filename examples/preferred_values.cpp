// SPDX-License-Identifier: GPL-3.0-or-later
// Values that are made: the nearest of a series (IEC 60063) to what was measured.
#include <fmt/core.h>

#include "core/parts/preferred_values.h"

int main() {
    for (const double ohms : {4.6, 51.3, 9870.0})
        fmt::print("{:>7} ohm: {:g} of E24, {:g} of E96\n", ohms,
                   eh::nearest_preferred(ohms, eh::Series::e24),
                   eh::nearest_preferred(ohms, eh::Series::e96));
}
