// SPDX-License-Identifier: GPL-3.0-or-later
// What the recording says of a warm soak: whether the charger stayed on for the whole time.
#pragma once

#include <span>
#include <string>

#include "core/trace/meter_summary.h"

namespace eh {

struct SoakReading {
    bool recorded = false;  // a meter was lit for nine tenths of the time that it was not away
    bool held = true;       // no drop-out; true where nothing was recorded
    int drop_outs = 0;
    double longest_out_s = 0.0;
    double lit_s = 0.0;
    double mean_volts = 0.0;
    double mean_amps = 0.0;
    std::string says;  // a sentence for the proof
};

// Reads the samples with from_s <= t <= to_s. A gap between two lit stretches is a drop-out; so is darkness
// at the end that lasts longer than dark_gap_s(). Darkness before the first sample is not: the meter may have
// been connected later, which the share of the time tells. Requires samples in the order of time and from_s <
// to_s.
SoakReading read_soak(std::span<const MeterSample> samples, double from_s, double to_s);

}  // namespace eh
