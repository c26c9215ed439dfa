// SPDX-License-Identifier: GPL-3.0-or-later
// How far machines of other makers are from what a topology says: nobody knows the design of the machine on
// the bench. Read from data/designs.
#pragma once

#include <string>
#include <vector>

namespace eh {

// Of a net, as one standard deviation. All readings of one machine are off by the same, so that the first of
// them tells what the others will be (core/prediction/expectation.h).
struct NetVariety {
    double volts_share = 0.0;  // of its volts
    double ohms_ln = 0.0;      // of the logarithm of its ohms to ground where no fault changes them
};

// What a part makes of the net at one of its pins.
struct PinVariety {
    std::string kind;
    std::string pin;
    NetVariety net;
};

struct DesignVariety {
    std::vector<PinVariety> pins;
    double amps_ln = 0.0;  // of the logarithm of what a machine draws that does not strain its charger
};

}  // namespace eh
