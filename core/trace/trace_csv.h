// SPDX-License-Identifier: GPL-3.0-or-later
// Traces as CSV: "t_s,volts,amps" with one sample a line (docs/formats.md).
#pragma once

#include <cstdint>
#include <functional>
#include <iosfwd>
#include <span>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/trace/meter_summary.h"

namespace eh {

struct TraceFile {
    std::vector<MeterSample> samples;
    std::uint64_t odd_lines = 0;  // left out because they are no sample: text in the middle, cut lines
};

// Reads a whole file. The first line says which columns hold what: t_s, t_ms or t_us; volts or millivolts;
// amps, milliamps or microamps; others are read past. Without these names they are time in seconds, volts,
// amps. Refused: a first line that names some of them only, values beyond a bench's, no sample at all, times
// that go back or lie beyond 1e12 s. `stop` is asked now and then; true ends the reading with an error of
// kind unavailable.
Result<TraceFile> read_trace_csv(std::istream& file, const std::string& name,
                                 const std::function<bool()>& stop = {});

// Whether the first line of a file names the columns of a recording.
bool names_trace_columns(std::string_view first_line);

// How a long file gets on: bytes read so far; false stops the reading.
using TraceProgress = std::function<bool(std::uint64_t bytes)>;

// Reads a file of any length piece by piece; returns how many odd lines were left out. Refused and stopped as
// read_trace_csv.
Result<std::uint64_t> scan_trace_csv(std::istream& file, const std::string& name,
                                     const std::function<void(std::span<const MeterSample>)>& take,
                                     const TraceProgress& progress = {});

// Writes samples with microseconds, tenths of millivolts and microamps.
void write_trace_csv(std::ostream& file, const std::vector<MeterSample>& samples);
// The parts of that, for recordings that memory should not hold.
void write_trace_header(std::ostream& file);
void write_trace_lines(std::ostream& file, std::span<const MeterSample> samples);

}  // namespace eh
