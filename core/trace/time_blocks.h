// SPDX-License-Identifier: GPL-3.0-or-later
// Cuts a stream into blocks of equal time.
#pragma once

#include <cassert>
#include <span>

#include "core/trace/meter_summary.h"

namespace eh {

// The index after the block that begins at `first`: the first sample that lies `length_s` or more behind it.
// Always beyond `first`, also where times are so large that a block's length is lost in their rounding.
// Requires samples in the order of time and first < samples.size().
inline std::size_t end_of_block(std::span<const MeterSample> samples, std::size_t first, double length_s) {
    assert(first < samples.size() && "end_of_block: begins behind the stream");
    std::size_t next = first + 1;
    while (next < samples.size() && samples[next].t_s < samples[first].t_s + length_s)
        ++next;
    return next;
}

}  // namespace eh
