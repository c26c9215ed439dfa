// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/sheet_trace.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/json_reader.h"
#include "core/job/job.h"

namespace eh {
namespace {

using nlohmann::json;
constexpr std::size_t most_samples = 150;

json write_trace(const SheetTrace& trace) {
    json samples = json::array();
    for (const MeterSample& sample : trace.samples)
        samples.push_back({sample.t_s, sample.volts, sample.amps});
    return {{"reading", trace.reading_id}, {"samples", std::move(samples)}};
}

SheetTrace read_trace_of(const JsonReader& field) {
    SheetTrace trace;
    trace.reading_id = field.text("reading");
    for (const JsonReader& item : field.items("samples")) {
        const json& row = item.raw();
        const auto is_number = [](const json& value) { return value.is_number(); };
        if (!row.is_array() || row.size() != 3 || !std::all_of(row.begin(), row.end(), is_number))
            item.refuse("a sample is three numbers: seconds, volts, amps");
        trace.samples.push_back(
            MeterSample{row[0].get<double>(), row[1].get<double>(), row[2].get<double>()});
        if (trace.samples.size() > 1 &&
            trace.samples.back().t_s < trace.samples[trace.samples.size() - 2].t_s)
            item.refuse("time goes back here");
    }
    return trace;
}

// Figures that a small plot does not show would take most of the room in the shop's file.
double rounded(double value, double steps_per_unit) {
    return std::round(value * steps_per_unit) / steps_per_unit;
}

// Of every stretch its lowest and its highest sample, in the order of time.
std::vector<MeterSample> thinned(std::span<const MeterSample> samples) {
    std::vector<MeterSample> kept;
    const std::size_t stretches = most_samples / 2;
    for (std::size_t s = 0; s < stretches; ++s) {
        const auto first = samples.begin() + static_cast<std::ptrdiff_t>(samples.size() * s / stretches);
        const auto last = samples.begin() + static_cast<std::ptrdiff_t>(samples.size() * (s + 1) / stretches);
        auto [low, high] = std::minmax_element(
            first, last, [](const MeterSample& a, const MeterSample& b) { return a.volts < b.volts; });
        if (high < low)
            std::swap(low, high);
        kept.push_back(*low);
        if (high != low)
            kept.push_back(*high);
    }
    return kept;
}

}  // namespace

json write_traces(const SheetTraces& traces) {
    json j = json::object();
    if (!traces.before.reading_id.empty())
        j["before"] = write_trace(traces.before);
    if (!traces.after.reading_id.empty())
        j["after"] = write_trace(traces.after);
    return j;
}

SheetTraces read_traces(const JsonReader& field) {
    SheetTraces traces;
    if (field.has("before"))
        traces.before = read_trace_of(field.at("before"));
    if (field.has("after"))
        traces.after = read_trace_of(field.at("after"));
    return traces;
}

void keep_sheet_trace(Job& job, const std::string& reading_id, std::span<const MeterSample> samples) {
    const bool worked = !job.acts.empty();
    if (!worked && !job.handover.traces.before.reading_id.empty())
        return;
    SheetTrace trace;
    trace.reading_id = reading_id;
    trace.samples = samples.size() > most_samples ? thinned(samples)
                                                  : std::vector<MeterSample>(samples.begin(), samples.end());
    const double start_s = trace.samples.empty() ? 0.0 : trace.samples.front().t_s;
    for (MeterSample& sample : trace.samples)
        sample = {rounded(sample.t_s - start_s, 1e3), rounded(sample.volts, 1e3), rounded(sample.amps, 1e3)};
    (worked ? job.handover.traces.after : job.handover.traces.before) = std::move(trace);
}

}  // namespace eh
