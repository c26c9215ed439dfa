// SPDX-License-Identifier: GPL-3.0-or-later
// What is kept of a simulated machine in one configuration, and about how much memory it takes.
#pragma once

#include <vector>

#include "core/machine/simulation/observation.h"

namespace eh {

using Views = std::vector<PoweredView>;  // by sample
using Numbers = std::vector<double>;     // by sample; infinity is OL, NaN: no operating point
using NetOhms = std::vector<Numbers>;    // by net

inline std::size_t bytes_of(const Numbers& numbers) {
    return sizeof(Numbers) + numbers.size() * sizeof(double);
}

inline std::size_t bytes_of(const NetOhms& by_net) {
    std::size_t bytes = sizeof(NetOhms);
    for (const Numbers& ohms : by_net)
        bytes += bytes_of(ohms);
    return bytes;
}

// Samples that repeat the one before them share its numbers.
inline std::size_t bytes_of(const Views& views) {
    constexpr std::size_t of_a_list = 64;  // beside its numbers
    std::size_t bytes = sizeof(Views);
    for (const PoweredView& view : views) {
        bytes += sizeof(PoweredView);
        if (!view.repeats)
            bytes += 3 * of_a_list +
                     sizeof(float) * (view.net_volts.size() + view.net_ohms.size() + view.rise_kelvin.size());
    }
    return bytes;
}

}  // namespace eh
