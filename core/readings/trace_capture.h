// SPDX-License-Identifier: GPL-3.0-or-later
// What the trace of the meter shows, as readings for the reasoning.
#pragma once

#include <optional>
#include <span>

#include "core/readings/reading.h"
#include "core/trace/trace_events.h"

namespace eh {

// The stretch that stands for what the machine did at an event: what follows it once things have settled, or
// the cycle itself. Requires an event of that reading.
struct TraceStretch {
    double from_s = 0.0;
    double to_s = 0.0;
};
TraceStretch stretch_of(const TraceEvent& event, const TraceReading& reading);

// Whether an event says something about the machine: a plug that was pulled on purpose does not.
bool is_evidence(TraceEventKind kind);

// An event as a reading of the bench as it stood then: a drop-out as a push that made it drop out, everything
// else as what the meter showed. Refused with a sentence when the stretch is too short to say anything, or
// the event is no evidence. `samples` must cover the stretch, in the order of time.
Result<Reading> reading_of(const TraceEvent& event, const TraceReading& reading,
                           std::span<const MeterSample> samples, const BenchConfiguration& bench);

}  // namespace eh
