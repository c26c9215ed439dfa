// SPDX-License-Identifier: GPL-3.0-or-later
// The small traces of the handover sheet: what the meter showed before the work and after it.
#pragma once

#include <nlohmann/json_fwd.hpp>
#include <span>
#include <string>
#include <vector>

#include "core/trace/meter_summary.h"

namespace eh {

class JsonReader;
struct Job;

struct SheetTrace {
    std::string reading_id;            // that was taken at its end
    std::vector<MeterSample> samples;  // t_s from 0; dark times are gaps
    friend bool operator==(const SheetTrace&, const SheetTrace&) = default;
};

struct SheetTraces {
    SheetTrace before;  // of the first reading that was captured while nothing had been done yet
    SheetTrace after;   // of the last one that was captured since
    friend bool operator==(const SheetTraces&, const SheetTraces&) = default;
};

// As the job file holds them. read_traces() gives back equal ones; throws JsonRefused, with the field.
nlohmann::json write_traces(const SheetTraces& traces);
SheetTraces read_traces(const JsonReader& field);

// Keeps what the meter sent up to the capture of a reading where the sheet wants it; thinned to at most 150
// samples so that every swing stays (the least and the greatest volts of each stretch of time), to the
// millisecond, millivolt and milliampere: at most some eight bytes a sample in the shop's file.
// Nothing sent: the trace is kept empty, and the sheet says dark. Leaves `job` as it is where another trace
// stands already.
void keep_sheet_trace(Job& job, const std::string& reading_id, std::span<const MeterSample> samples);

}  // namespace eh
