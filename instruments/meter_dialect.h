// The inline meter's language: lines of comma-separated numbers.
#pragma once

#include <QByteArray>
#include <variant>

#include "core/trace/meter_summary.h"

namespace eh {

struct MeterRemark {
    QByteArray text;  // what follows the #
};
struct MeterHeader {};
struct MeterNonsense {};

using MeterLine = std::variant<MeterSample, MeterRemark, MeterHeader, MeterNonsense>;

// Reads one line: "t_s,volts,amps" with decimal points, further columns ignored; "# ..." is a remark; the
// header line is recognised by its first column. Everything else, numbers beyond any bench included, is
// nonsense.
MeterLine parse_meter_line(const QByteArray& line);

}  // namespace eh
