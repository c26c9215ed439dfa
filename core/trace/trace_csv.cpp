// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/trace_csv.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <ostream>

#include "core/base/lines.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {

namespace {

constexpr std::size_t piece_samples = 8192;
// Thirty thousand years, or milliseconds since 1970 taken for seconds; far beyond it samples a second apart
// fall onto the same double.
constexpr double latest_s = 1e12;
constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";

constexpr std::size_t most_columns = 16;
constexpr std::size_t quantity_count = 3;  // time, volts, amps

// Which column holds what, and in what unit.
struct Columns {
    std::array<std::size_t, quantity_count> at{0, 1, 2};
    std::array<double, quantity_count> scale{1.0, 1.0, 1.0};
    bool named = false;
};

struct ColumnName {
    std::string_view name;
    std::size_t quantity;
    double scale;
};
constexpr std::array<ColumnName, 8> column_names{{{"t_s", 0, 1.0},
                                                  {"t_ms", 0, 1e-3},
                                                  {"t_us", 0, 1e-6},
                                                  {"volts", 1, 1.0},
                                                  {"millivolts", 1, 1e-3},
                                                  {"amps", 2, 1.0},
                                                  {"milliamps", 2, 1e-3},
                                                  {"microamps", 2, 1e-6}}};

// What the first line says of the columns. A line without any of the names says nothing: then they stand in
// the usual order. One that names some but not all is refused.
Result<Columns> columns_of(std::string_view header, const std::string& place) {
    Columns columns;
    std::array<bool, quantity_count> found{};
    for (std::size_t i = 0; i < most_columns; ++i) {
        const std::size_t end = std::min(header.find(','), header.size());
        std::string_view name = header.substr(0, end);
        while (!name.empty() && (name.front() == ' ' || name.front() == '"'))
            name.remove_prefix(1);
        while (!name.empty() && (name.back() == ' ' || name.back() == '"'))
            name.remove_suffix(1);
        for (const ColumnName& known : column_names) {
            if (known.name != name || found[known.quantity])
                continue;
            found[known.quantity] = true;
            columns.at[known.quantity] = i;
            columns.scale[known.quantity] = known.scale;
        }
        if (end == header.size())
            break;
        header.remove_prefix(end + 1);
    }
    const auto named = std::count(found.begin(), found.end(), true);
    if (named != 0 && named != static_cast<std::ptrdiff_t>(quantity_count))
        return refused(
            "this line names some columns, but not time, volts and amps; write t_s (or t_ms, t_us), "
            "volts (millivolts) and amps (milliamps, microamps)",
            place);
    columns.named = named != 0;
    return columns;
}

// The sample of a line; nullopt when it is none. What stands in other columns does not matter.
std::optional<MeterSample> parse_line(std::string_view line, const Columns& columns) {
    std::array<double, quantity_count> values{};
    const std::size_t last = *std::max_element(columns.at.begin(), columns.at.end());
    for (std::size_t i = 0; i <= last; ++i) {
        if (i > 0) {
            if (line.empty() || line.front() != ',')
                return std::nullopt;
            line.remove_prefix(1);
        }
        const auto wanted = std::find(columns.at.begin(), columns.at.end(), i);
        if (wanted == columns.at.end()) {
            line.remove_prefix(std::min(line.find(','), line.size()));
            continue;
        }
        const auto value = take_number(line);
        if (!value)
            return std::nullopt;
        const auto quantity = static_cast<std::size_t>(wanted - columns.at.begin());
        values[quantity] = *value * columns.scale[quantity];
    }
    if (!line.empty() && line.front() != ',')
        return std::nullopt;
    return MeterSample{values[0], values[1], values[2]};
}

// More than any bench has: then the columns are others, or in another unit.
Outcome check_values(const MeterSample& sample, const std::string& place) {
    if (auto volts = check_plausible(sample.volts, Unit::volts, place); !volts)
        return volts;
    return check_plausible(sample.amps, Unit::amps, place);
}

}  // namespace

bool names_trace_columns(std::string_view first_line) {
    if (first_line.starts_with(byte_order_mark))
        first_line.remove_prefix(byte_order_mark.size());
    while (!first_line.empty() && (first_line.back() == '\n' || first_line.back() == '\r'))
        first_line.remove_suffix(1);
    const auto columns = columns_of(first_line, {});
    return columns.ok() && columns->named;
}

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
    bool begun = false;  // the first line that is no remark was read
    Columns columns;
    double last_s = 0.0;
    while (lines.next(line)) {
        ++number;
        if (progress && refills != lines.refills() && !progress(lines.bytes()))
            return Error{ErrorKind::unavailable, "the reading was stopped", name};
        refills = lines.refills();
        if (line.empty() || line.front() == '#')
            continue;
        if (!begun && line.starts_with(byte_order_mark))
            line.remove_prefix(byte_order_mark.size());
        const auto sample = parse_line(line, columns);
        if (!sample && !begun) {
            auto told = columns_of(line, name + ", line " + integer_text(number));
            if (!told)
                return told.error();
            columns = *told;
            begun = true;
            continue;
        }
        begun = true;
        if (!sample) {
            ++odd;
            continue;
        }
        if (auto plausible = check_values(*sample, name); !plausible)
            return Error{plausible.error().kind, plausible.error().message,
                         name + ", line " + integer_text(number)};
        if (std::abs(sample->t_s) > latest_s)
            return refused("the time here is beyond any clock; times are seconds, as in 0.02,5.01,0.183",
                           name + ", line " + integer_text(number));
        if (any && sample->t_s < last_s)
            return refused("time goes back here; the file is damaged or was put together from several",
                           name + ", line " + integer_text(number));
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
    std::string line;
    for (const MeterSample& sample : samples) {
        line.clear();
        fmt::format_to(std::back_inserter(line), "{:.6f},{:.4f},{:.6f}\n", sample.t_s, sample.volts,
                       sample.amps);
        file.write(line.data(), static_cast<std::streamsize>(line.size()));
    }
}

void write_trace_csv(std::ostream& file, const std::vector<MeterSample>& samples) {
    write_trace_header(file);
    write_trace_lines(file, samples);
}

}  // namespace eh
