// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/trace_command.h"

#include <iostream>
#include <memory>

#include "core/base/files.h"
#include "core/trace/long_trace.h"
#include "core/trace/trace_csv.h"

namespace eh::cli {

using nlohmann::json;

Result<json> read_trace_file(const std::string& file) {
    std::unique_ptr<std::istream> opened;
    if (file != "-") {
        auto found = open_for_reading(file);
        if (!found)
            return found.error();
        opened = std::move(found).value();
    }
    LongTrace trace;
    const auto odd_lines =
        scan_trace_csv(file == "-" ? std::cin : *opened, file,
                       [&](std::span<const MeterSample> samples) { trace.append(samples); });
    if (!odd_lines)
        return odd_lines.error();
    const std::uint64_t samples = trace.samples();
    const TraceReading reading = trace.finish();
    json spans = json::array();
    for (const TraceSpan& span : reading.spans)
        spans.push_back({{"state", to_text(span.state)},
                         {"from_s", span.from_s},
                         {"to_s", span.to_s},
                         {"nominal_volts", span.nominal_volts},
                         {"volts", span.volts},
                         {"amps", span.amps},
                         {"peak_amps", span.peak_amps},
                         {"says", describe(span)}});
    json events = json::array();
    for (const TraceEvent& event : reading.events)
        events.push_back({{"kind", to_text(event.kind)},
                          {"t_s", event.t_s},
                          {"until_s", event.until_s},
                          {"value", event.value},
                          {"says", describe(event)}});
    json answer{{"samples", samples},
                {"odd_lines", *odd_lines},
                {"spans", std::move(spans)},
                {"events", std::move(events)}};
    if (reading.source)
        answer["source"] = {{"ohms", reading.source->ohms},
                            {"low_ohms", reading.source->low_ohms},
                            {"high_ohms", reading.source->high_ohms},
                            {"volts_at_no_load", reading.source->volts_at_no_load}};
    return answer;
}

}  // namespace eh::cli
