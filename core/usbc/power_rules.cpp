// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/power_rules.h"

#include <algorithm>
#include <cassert>

namespace eh {

std::vector<LabelOffer> required_offers(double watts) {
    assert(watts > 0.0);
    struct Step {
        double volts;
        double above_watts;  // required of sources with more than this
    };
    constexpr Step steps[]{{5.0, 0.0}, {9.0, 15.0}, {15.0, 27.0}, {20.0, 45.0}};
    constexpr double unmarked_amps = 3.0;
    constexpr double marked_amps = 5.0;
    constexpr double marked_above_watts = 60.0;
    std::vector<LabelOffer> offers;
    for (const Step& step : steps) {
        if (watts <= step.above_watts)
            break;
        const bool marked = step.volts == 20.0 && watts > marked_above_watts;
        offers.push_back(
            {step.volts, step.volts, std::min(marked ? marked_amps : unmarked_amps, watts / step.volts)});
    }
    return offers;
}

}  // namespace eh
