// SPDX-License-Identifier: GPL-3.0-or-later
// What readings showed, for tests that need not spell out the kind.
#pragma once

#include <optional>

#include "core/readings/reading.h"

namespace eh::test {

// Volts, ohms or kelvin of a reading that has one number; none where it is OL, or was not measured.
std::optional<double> number_of(const Reading& reading);

// Of the inline meter or the bench supply. Throws where the reading is of neither.
const MeterSummary& meter_of(const Reading& reading);

// The hottest part, under power or by injection. Throws where the reading is of neither.
const HotPartReading& heat_of(const Reading& reading);

}  // namespace eh::test
