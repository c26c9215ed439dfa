// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/sample_table.h"

#include <algorithm>
#include <istream>
#include <limits>

#include "core/base/text.h"
#include "core/usbc/table_shape.h"

namespace eh::pd {
namespace {

constexpr std::size_t lines_looked_at = 400;
constexpr std::size_t longest_line_kept = 4096;

std::optional<TableShape> look_at(std::istream& file) {
    Lines lines(file);
    std::vector<std::string> first;
    std::string_view line;
    while (first.size() < lines_looked_at && lines.next(line))
        first.emplace_back(line.substr(0, longest_line_kept));
    file.clear();
    file.seekg(0);
    return table_shape(first);
}

// The levels of the columns, each with its hysteresis.
class Columns {
  public:
    Columns(const TableShape& shape, const CaptureOptions& options)
        : shape_(shape), options_(options), high_(shape.values.size(), 0) {}

    void put(const std::vector<double>& row, double t_s, WireReaders& readers) {
        for (std::size_t i = 0; i < shape_.values.size(); ++i) {
            const double volts = row[shape_.values[i].at] * shape_.values[i].scale;
            least_volts_ = std::min(least_volts_, volts);
            most_volts_ = std::max(most_volts_, volts);
            const double threshold =
                options_.threshold_volts - (high_[i] != 0 ? options_.hysteresis_volts : 0.0);
            high_[i] = volts > threshold ? 1 : 0;
            readers.level(i, high_[i] != 0, t_s);
        }
    }
    // That the values swing, but not about the threshold, or far beyond what a CC line carries.
    [[nodiscard]] bool threshold_is_doubtful() const {
        constexpr double least_swing_volts = 0.25;
        constexpr double most_line_volts = 6.0;
        const bool all_on_one_side =
            least_volts_ > options_.threshold_volts || most_volts_ < options_.threshold_volts;
        return (all_on_one_side && most_volts_ - least_volts_ > least_swing_volts) ||
               most_volts_ > most_line_volts;
    }
    [[nodiscard]] std::string range() const {
        return number_text("%.3g", least_volts_) + " to " + number_text("%.3g V", most_volts_);
    }

  private:
    const TableShape& shape_;
    const CaptureOptions& options_;
    std::vector<std::uint8_t> high_;
    double least_volts_ = std::numeric_limits<double>::max();
    double most_volts_ = std::numeric_limits<double>::lowest();
};

// The times of the rows, as they come.
struct RowTimes {
    std::uint64_t rows = 0;
    double first = 0.0;
    double last = 0.0;
    double least_step = std::numeric_limits<double>::max();

    // False when it lies before the last.
    bool take(double t) {
        if (rows > 0 && t < last)
            return false;
        if (rows > 0 && t > last)
            least_step = std::min(least_step, t - last);
        first = rows == 0 ? t : first;
        last = t;
        ++rows;
        return true;
    }
};

// A quarter of a bit: with fewer samples half bits fall between two of them.
constexpr double slowest_sample_s = 0.6 * nominal_bit_s;
constexpr std::uint64_t fewest_rows = 200;

void add_doubts(CapturePass& pass, const TableShape& shape, const RowTimes& times, const Columns& columns,
                const CaptureOptions& options) {
    std::optional<CaptureQuestion>& question = pass.capture.report.question;
    const double step_s = times.least_step;
    if (pass.capture.frames.empty() && times.rows >= fewest_rows && step_s > slowest_sample_s &&
        pass.unit_is_known && shape.time) {
        question = CaptureQuestion{};
        question->sentence = "There is a sample every " + number_text("%.3g µs", step_s * 1e6) +
                             " only; packets show from 1.2 million samples a second on, one every 0.83 µs.";
    } else if (pass.capture.frames.empty() && columns.threshold_is_doubtful()) {
        question = CaptureQuestion{};
        question->sentence = "The samples lie between " + columns.range() + ", the threshold at " +
                             number_text("%.3g V", options.threshold_volts) +
                             ": nothing of it reads as a packet.";
        question->volts = true;
    }
}

// The unit of time, or the time of a sample, as the user or else the table says it.
std::optional<double> unit_said(const TableShape& shape, const CaptureOptions& options) {
    if (shape.time)
        return options.time_unit_s ? options.time_unit_s : shape.time_unit_s;
    if (options.samples_a_second)
        return 1.0 / *options.samples_a_second;
    return shape.sample_s;
}

}  // namespace

Result<CapturePass> read_sample_table(std::istream& file, const std::string& name,
                                      const CaptureOptions& options) {
    const auto shape = look_at(file);
    if (!shape || shape->values.empty())
        return refused("there are no samples here; lines should read like 0.000001,0.55,0.00", name);
    if (shape->currents)
        return refused(
            "these columns are volts and amps of an inline meter, not samples of the CC line; open them as "
            "a trace",
            name);
    CapturePass pass;
    pass.has_times = shape->time.has_value();
    const std::optional<double> said = unit_said(*shape, options);
    pass.unit_is_known = said.has_value();
    pass.time_unit_s = said.value_or(1.0);

    std::vector<std::string> names;
    for (const TableColumn& column : shape->values)
        names.push_back(column.name);
    WireReaders readers(names);
    Columns columns(*shape, options);
    Lines lines(file);
    Supervision supervision(lines, options);
    RowTimes times;
    std::vector<double> row;
    std::string_view line;
    std::uint64_t number = 0;
    std::uint64_t odd = 0;
    while (lines.next(line)) {
        if (!supervision.goes_on())
            return reading_stopped(name);
        if (number++ < shape->first_row)
            continue;
        if (!split_numbers(line, shape->separator, row) || row.size() != shape->columns) {
            odd += line.empty() ? 0 : 1;
            continue;
        }
        const double t_s =
            (shape->time ? row[*shape->time] : static_cast<double>(times.rows)) * pass.time_unit_s;
        if (!times.take(t_s))
            return time_goes_back(name, number);
        columns.put(row, t_s, readers);
    }
    auto capture = readers.finish(name, options);
    if (!capture)
        return capture.error();
    pass.capture = std::move(capture).value();
    pass.capture.report.seconds = times.last - times.first;
    pass.capture.report.odd_lines = odd;
    pass.half_bit_s = readers.half_bit_s();
    add_doubts(pass, *shape, times, columns, options);
    return pass;
}

}  // namespace eh::pd
