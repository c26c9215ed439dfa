// SPDX-License-Identifier: GPL-3.0-or-later
// The inline meter's language: lines of separated numbers. Meters differ in their columns.
#pragma once

#include <QByteArray>
#include <optional>
#include <variant>

#include "core/trace/meter_summary.h"

namespace eh {

// Where a meter's lines say what. Columns are counted from 0.
struct MeterColumns {
    std::optional<int> time = 0;  // not given: the meter sends no time, the moment of arrival counts
    int volts = 1;
    int amps = 2;
    double time_unit_s = 1.0;  // 0.001 where it counts milliseconds
    double volts_unit = 1.0;   // 0.001 where it sends millivolts
    double amps_unit = 1.0;
    char separator = ',';  // ' ' stands for any number of blanks and tabs
    friend bool operator==(const MeterColumns&, const MeterColumns&) = default;
};

struct MeterRemark {
    QByteArray text;  // what follows the #
};
struct MeterHeader {};
struct MeterNonsense {};

using MeterLine = std::variant<MeterSample, MeterRemark, MeterHeader, MeterNonsense>;

// Reads one line: numbers with decimal points in the columns, further columns ignored; "# ..." is a remark; a
// line without any digit is a header. Everything else, numbers beyond any bench included, is nonsense. A line
// without time has t_s = 0.
MeterLine parse_meter_line(const QByteArray& line, const MeterColumns& columns = {});

}  // namespace eh
