// SPDX-License-Identifier: GPL-3.0-or-later
// What a USB-C source of that many watts must offer.
#pragma once

#include <vector>

#include "core/usbc/supply_check.h"

namespace eh {

// The fixed offers that a source must make by the power rules of USB Power Delivery, revision 3 (from
// memory): up to 15 W 5 V, up to 27 W also 9 V, up to 45 W also 15 V, up to 60 W also 20 V with 3 A, up to
// 100 W 20 V with up to 5 A. Amps are watts over volts, at most 3 (5 at 20 V above 60 W). Extended range is
// left out. So a 45 W source need not offer 20 V; many do all the same. Requires watts > 0.
std::vector<LabelOffer> required_offers(double watts);

// Most that a source may hold at its connector for that nominal: 5 % above (USB Power Delivery, from memory).
inline constexpr double source_tolerance = 0.05;

}  // namespace eh
