#include "core/trace/trace_csv.h"

#include <array>
#include <cstdio>
#include <ostream>

#include "core/base/lines.h"

namespace eh {

Result<TraceFile> read_trace_csv(std::istream& file, const std::string& name,
                                 const std::function<bool()>& stop) {
    Lines lines(file);
    TraceFile trace;
    std::string_view line;
    std::uint64_t number = 0;
    std::uint64_t refills = 0;
    while (lines.next(line)) {
        ++number;
        if (stop && refills != lines.refills() && stop())
            return Error{ErrorKind::unavailable, "the reading was stopped", name};
        refills = lines.refills();
        if (line.empty() || line.front() == '#')
            continue;
        std::array<double, 3> values{};
        std::size_t read = 0;
        for (; read < values.size(); ++read) {
            if (read > 0) {
                if (line.empty() || line.front() != ',')
                    break;
                line.remove_prefix(1);
            }
            const auto value = take_number(line);
            if (!value)
                break;
            values[read] = *value;
        }
        const bool whole = read == values.size() && (line.empty() || line.front() == ',');
        if (!whole) {
            trace.odd_lines += number > 1 ? 1 : 0;  // the first line is the header
            continue;
        }
        if (!trace.samples.empty() && values[0] < trace.samples.back().t_s)
            return refused("time goes back here; the file is damaged or was put together from several",
                           name + ", line " + std::to_string(number));
        trace.samples.push_back({values[0], values[1], values[2]});
    }
    if (trace.samples.empty())
        return refused("there are no samples here; lines should read like 0.02,5.01,0.183", name);
    return trace;
}

void write_trace_csv(std::ostream& file, const std::vector<MeterSample>& samples) {
    file << "t_s,volts,amps\n";
    std::array<char, 96> line{};
    for (const MeterSample& sample : samples) {
        const int length = std::snprintf(line.data(), line.size(), "%.6f,%.4f,%.6f\n", sample.t_s,
                                         sample.volts, sample.amps);
        file.write(line.data(), length);
    }
}

}  // namespace eh
