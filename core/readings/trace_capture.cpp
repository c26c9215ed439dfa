// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/trace_capture.h"

#include <algorithm>

namespace eh {
namespace {

constexpr double settle_s = 0.5;
constexpr double start_s = 3.0;  // machine and charger find their level, as after lighting up
constexpr double longest_s = 10.0;
constexpr double shortest_s = 2.0;
constexpr double cycles = 4.0;

// Where the level that holds at t_s ends.
double level_end(const TraceReading& reading, double t_s) {
    const auto span = std::find_if(reading.spans.begin(), reading.spans.end(), [t_s](const TraceSpan& one) {
        return one.from_s <= t_s && t_s < one.to_s;
    });
    return span == reading.spans.end() ? t_s : span->to_s;
}

}  // namespace

TraceStretch stretch_of(const TraceEvent& event, const TraceReading& reading) {
    switch (event.kind) {
        case TraceEventKind::retry_cycle:
            return {std::max(event.t_s, event.until_s - std::max(longest_s, cycles * event.value)),
                    event.until_s};
        case TraceEventKind::taper:
            return {std::max(event.t_s, event.until_s - longest_s), event.until_s};
        case TraceEventKind::charge_ramp: {
            // Where it has climbed to: the end of its level.
            const double end_s = level_end(reading, event.t_s);
            return {std::max(event.t_s, end_s - longest_s), end_s};
        }
        case TraceEventKind::drop_out:
        case TraceEventKind::pulled:
            return {event.t_s, event.until_s};
        case TraceEventKind::attach:
        case TraceEventKind::contract_step:
        case TraceEventKind::collapse:
        case TraceEventKind::boot:
            break;
    }
    const bool starts = event.kind == TraceEventKind::attach || event.kind == TraceEventKind::contract_step;
    const double from_s = event.until_s + (starts ? start_s : settle_s);
    return {from_s, std::min(from_s + longest_s, level_end(reading, from_s))};
}

bool is_evidence(TraceEventKind kind) {
    return kind != TraceEventKind::pulled;
}

Result<Reading> reading_of(const TraceEvent& event, const TraceReading& reading,
                           std::span<const MeterSample> samples, const BenchConfiguration& bench) {
    if (!is_evidence(event.kind))
        return refused("a plug that was pulled says nothing about the machine", describe(event));
    if (!bench.charger_connected || bench.port.empty())
        return refused("the strip said that no charger was in then; set it, then take the event",
                       describe(event));
    Reading taken;
    taken.configuration = bench;
    taken.source = "captured";
    taken.note = describe(event);
    if (event.kind == TraceEventKind::drop_out) {
        taken.value = WiggleReading{true};
        return taken;
    }
    const TraceStretch stretch = stretch_of(event, reading);
    if (stretch.to_s - stretch.from_s < shortest_s)
        return refused(
            "what follows is too short to say what the machine draws: leave it plugged in for some "
            "seconds",
            describe(event));
    taken.value = MeterReading{summarise(samples, stretch.from_s, stretch.to_s), true};
    return taken;
}

}  // namespace eh
