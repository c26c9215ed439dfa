// SPDX-License-Identifier: GPL-3.0-or-later
// Which stretch of the stream a capture stands for, and what it amounts to.
//
// A plug that has just gone in climbs through its contracts and the machine starts; none of that is what the
// machine draws. The same warm-up is left out of what the model predicts
// (core/machine/simulation/observation.h).
#pragma once

#include <span>
#include <variant>

#include "core/trace/meter_summary.h"

namespace eh {

struct CaptureRule {
    double longest_s = 10.0;       // a capture looks back no further
    double shortest_s = 2.0;       // and is refused when there is less to look at
    double after_change_s = 0.5;   // after the plug moved, lines may still be on their way
    double after_lit_s = 3.0;      // left out from the moment the meter lights up
    double dark_at_least_s = 3.0;  // a meter may take a moment to wake: dark is said only after so long
};

enum class NotYet {
    plug_just_moved,  // nothing has been seen of the bench as it is now
    just_lit,         // the source and the machine are still finding their level
};

struct Capture {
    MeterSummary summary;
    double seconds = 0.0;  // the length of the stretch it was made from
};

// The capture at now_s of a bench that last changed at changed_s (both on the stream's clock, seconds), from
// samples in the order of time. A meter that lit up after the change and is dark for the whole stretch is a
// flash. Refuses with what is missing.
std::variant<Capture, NotYet> capture(std::span<const MeterSample> samples, double changed_s, double now_s,
                                      const CaptureRule& rule = {});

}  // namespace eh
