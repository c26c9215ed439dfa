// SPDX-License-Identifier: GPL-3.0-or-later
// Recordings as CSV: what is read comes in order, and reading it as events ends in spans without holes.
#include <sstream>

#include "core/trace/trace_csv.h"
#include "core/trace/trace_events.h"
#include "core/trace/wiggle.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    std::istringstream file(fuzz::text_of(data, size));
    const auto trace = read_trace_csv(file, "fuzz");
    if (!trace)
        return 0;
    const TraceReading reading = read_trace(trace->samples);
    for (std::size_t i = 1; i < reading.spans.size(); ++i)
        fuzz::demand(reading.spans[i].from_s >= reading.spans[i - 1].from_s);
    for (const TraceEvent& event : reading.events)
        fuzz::demand(!describe(event).empty() && !short_name(event).empty());
    (void)read_wiggle(trace->samples, wiggle_steps(trace->samples.front().t_s));
    return 0;
}
