// SPDX-License-Identifier: GPL-3.0-or-later
// What happened in a recording of the inline meter: a charger that comes and goes, as when the machine
// refuses it.
#include <fmt/core.h>

#include "core/trace/trace_events.h"

int main() {
    std::vector<eh::MeterSample> samples;
    // Fed by the line it measures, the meter is dark where there are no volts.
    for (int i = 0; i < 1200; ++i) {
        if (i % 60 < 30)
            samples.push_back({0.05 * i, 5.02, 0.03});
    }
    const eh::TraceReading reading = eh::read_trace(samples);
    for (const eh::TraceEvent& event : eh::outline_of(reading.events))
        fmt::print("{:5.1f} s  {}\n", event.t_s, eh::describe(event));
}
