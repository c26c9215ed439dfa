#include "core/trace/trace_csv.h"

#include <array>
#include <cmath>
#include <cstdio>
#include <ostream>

#include "core/base/lines.h"

namespace eh {

namespace {

constexpr std::size_t piece_samples = 8192;
// Thirty thousand years, or milliseconds since 1970 taken for seconds; far beyond it samples a second apart
// fall onto the same double.
constexpr double latest_s = 1e12;

// t, volts, amps and whatever follows; nullopt when it is no sample.
std::optional<MeterSample> parse_line(std::string_view line) {
    std::array<double, 3> values{};
    for (std::size_t i = 0; i < values.size(); ++i) {
        if (i > 0) {
            if (line.empty() || line.front() != ',')
                return std::nullopt;
            line.remove_prefix(1);
        }
        const auto value = take_number(line);
        if (!value)
            return std::nullopt;
        values[i] = *value;
    }
    if (!line.empty() && line.front() != ',')
        return std::nullopt;
    return MeterSample{values[0], values[1], values[2]};
}

}  // namespace

Result<std::uint64_t> scan_trace_csv(std::istream& file, const std::string& name,
                                     const std::function<void(std::span<const MeterSample>)>& take,
                                     const TraceProgress& progress) {
    Lines lines(file);
    std::vector<MeterSample> samples;
    samples.reserve(piece_samples);
    std::string_view line;
    std::uint64_t number = 0;
    std::uint64_t refills = 0;
    std::uint64_t odd = 0;
    bool any = false;
    double last_s = 0.0;
    while (lines.next(line)) {
        ++number;
        if (progress && refills != lines.refills() && !progress(lines.bytes()))
            return Error{ErrorKind::unavailable, "the reading was stopped", name};
        refills = lines.refills();
        if (line.empty() || line.front() == '#')
            continue;
        const auto sample = parse_line(line);
        if (!sample) {
            odd += number > 1 ? 1 : 0;  // the first line is the header
            continue;
        }
        if (std::abs(sample->t_s) > latest_s)
            return refused("the time here is beyond any clock; times are seconds, as in 0.02,5.01,0.183",
                           name + ", line " + std::to_string(number));
        if (any && sample->t_s < last_s)
            return refused("time goes back here; the file is damaged or was put together from several",
                           name + ", line " + std::to_string(number));
        any = true;
        last_s = sample->t_s;
        samples.push_back(*sample);
        if (samples.size() == piece_samples) {
            take(samples);
            samples.clear();
        }
    }
    if (!any)
        return refused("there are no samples here; lines should read like 0.02,5.01,0.183", name);
    take(samples);
    return odd;
}

Result<TraceFile> read_trace_csv(std::istream& file, const std::string& name,
                                 const std::function<bool()>& stop) {
    TraceFile trace;
    const auto odd = scan_trace_csv(
        file, name,
        [&](std::span<const MeterSample> samples) {
            trace.samples.insert(trace.samples.end(), samples.begin(), samples.end());
        },
        [&](std::uint64_t) { return !stop || !stop(); });
    if (!odd)
        return odd.error();
    trace.odd_lines = *odd;
    return trace;
}

void write_trace_header(std::ostream& file) {
    file << "t_s,volts,amps\n";
}

void write_trace_lines(std::ostream& file, std::span<const MeterSample> samples) {
    std::array<char, 96> line{};
    for (const MeterSample& sample : samples) {
        const int length = std::snprintf(line.data(), line.size(), "%.6f,%.4f,%.6f\n", sample.t_s,
                                         sample.volts, sample.amps);
        file.write(line.data(), length);
    }
}

void write_trace_csv(std::ostream& file, const std::vector<MeterSample>& samples) {
    write_trace_header(file);
    write_trace_lines(file, samples);
}

}  // namespace eh
