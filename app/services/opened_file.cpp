// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/opened_file.h"

#include <QFile>
#include <algorithm>
#include <limits>
#include <sstream>
#include <string>
#include <vector>

#include "core/base/lines.h"
#include "core/trace/trace_csv.h"
#include "core/usbc/cc_capture.h"
#include "core/usbc/table_shape.h"

namespace eh {
namespace {

constexpr qint64 looked_at_bytes = 1 << 16;
constexpr std::size_t fewest_samples = 3;

bool is_trace(const std::vector<std::string>& lines) {
    for (const std::string& line : lines) {
        if (names_trace_columns(line))
            return true;
    }
    const auto shape = pd::table_shape(lines);
    if (!shape)
        return false;
    if (shape->currents)
        return true;
    // Three columns without names: time, volts and amps of a meter come slowly.
    constexpr std::size_t trace_columns = 3;
    constexpr double slowest_line_sample_s = 1e-4;
    if (shape->columns != trace_columns || shape->first_row > 0)
        return false;
    double least_step = std::numeric_limits<double>::max();
    std::vector<double> row;
    std::vector<double> times;
    for (const std::string& line : lines) {
        if (pd::split_numbers(line, shape->separator, row) && row.size() == trace_columns)
            times.push_back(row.front());
    }
    for (std::size_t i = 1; i < times.size(); ++i)
        least_step = std::min(least_step, times[i] - times[i - 1]);
    return times.size() >= fewest_samples && least_step >= slowest_line_sample_s;
}

}  // namespace

OpenedFile kind_of(const QString& file) {
    QFile opened(file);
    if (!opened.open(QIODevice::ReadOnly))
        return OpenedFile::job;
    const std::string head = opened.read(looked_at_bytes).toStdString();
    switch (pd::capture_kind(head)) {
        case pd::CaptureKind::messages:
            return head.find("eager-hound.messages/") != std::string::npos ? OpenedFile::capture
                                                                           : OpenedFile::job;
        case pd::CaptureKind::value_changes:
        case pd::CaptureKind::raw:
            return OpenedFile::capture;
        case pd::CaptureKind::table:
            break;
    }
    std::istringstream stream(head);
    Lines all(stream);
    std::vector<std::string> lines;
    std::string_view line;
    while (all.next(line))
        lines.emplace_back(line);
    if (head.size() == looked_at_bytes)
        lines.pop_back();  // it may be cut
    if (is_trace(lines))
        return OpenedFile::trace;
    return pd::table_shape(lines) ? OpenedFile::capture : OpenedFile::job;
}

}  // namespace eh
