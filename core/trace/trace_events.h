// SPDX-License-Identifier: GPL-3.0-or-later
// A stream of the inline meter read as states and events.
//
// Dark times are gaps in the stream. Volts are cut into levels (core/trace/change_points.h), levels are named
// by the contracts that chargers make, and what happens between and within them becomes events.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/trace/meter_summary.h"
#include "core/trace/source_resistance.h"

namespace eh {

enum class TraceState {
    off,           // the meter is dark: no VBUS, or it collapsed
    contract,      // a level that chargers make: 5, 9, 12, 15, 20, 28, 36 or 48 V
    programmable,  // a level between those
    fold_back,     // volts pulled below 5 V while amps flow: a source at its limit
};

struct TraceSpan {
    TraceState state = TraceState::off;
    double from_s = 0.0;
    double to_s = 0.0;
    double nominal_volts = 0.0;  // of a contract, else 0
    double volts = 0.0;          // mean
    double amps = 0.0;
    double peak_amps = 0.0;
};

enum class TraceEventKind {
    attach,         // the meter lights up
    contract_step,  // volts go from one level to another
    retry_cycle,    // comes and goes in a rhythm: value is its period in seconds
    drop_out,       // gone for a moment and back: value is how long in seconds
    pulled,         // gone for longer, as when the plug is pulled
    collapse,       // volts fall within a contract while amps rise: value is the fall in volts
    boot,           // from next to nothing to what a machine that starts draws: value is the amps
    charge_ramp,    // amps climb to what a charging machine draws, dips included: value is the amps reached
    taper,          // amps fall slowly for minutes, as when a battery fills: value is the share lost
};

inline constexpr std::size_t trace_event_kind_count = 9;

struct TraceEvent {
    TraceEventKind kind = TraceEventKind::attach;
    double t_s = 0.0;
    double until_s = 0.0;
    double value = 0.0;
};

struct TraceReading {
    std::vector<TraceSpan> spans;  // in order, without holes
    std::vector<TraceEvent> events;
    // Of the longest contract in which the amps moved enough.
    std::optional<ResistanceEstimate> source;
};

struct TraceOptions {
    double gap_s = 0.0;           // without a sample for so long it counts as dark; 0: dark_gap_s()
    double pulled_after_s = 4.0;  // a plug that is moved on purpose is out for longer than a drop-out
    double digit_volts = 0.01;
    double digit_amps = 0.01;
};

// Reads a stretch of the stream. Requires finite samples in the order of time.
TraceReading read_trace(std::span<const MeterSample> samples, const TraceOptions& options = {});

// The events without those that a retry cycle consists of: what a list or a plot names.
std::vector<TraceEvent> outline_of(const std::vector<TraceEvent>& events);

// "off", "contract", ...; "attach", "contract_step", ...
std::string to_text(TraceState state);
std::string to_text(TraceEventKind kind);
// One line for people: "20 V, 1.35 A for 12 s", "retries every 1.3 s".
std::string describe(const TraceSpan& span);
std::string describe(const TraceEvent& event);
// A word or two for a plot: "plugged in", "20 V", "drop-out".
std::string short_name(const TraceEvent& event);

}  // namespace eh
