// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/meter_dialect.h"

#include <QByteArrayList>
#include <algorithm>
#include <cmath>

#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double longest_session_s = 1e10;  // clocks may count from 1970

bool number_at(const QByteArrayList& cells, int index, double unit, double& value) {
    if (index < 0 || index >= cells.size())
        return false;
    bool good = false;
    value = unit * cells[index].trimmed().toDouble(&good);  // with a decimal point, whatever the locale
    return good && std::isfinite(value);
}

// Words and nothing else: the names of the columns.
bool is_header(const QByteArray& line) {
    const auto is_letter = [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); };
    const auto is_digit = [](char c) { return c >= '0' && c <= '9'; };
    return std::any_of(line.begin(), line.end(), is_letter) &&
           std::none_of(line.begin(), line.end(), is_digit);
}

}  // namespace

MeterLine parse_meter_line(const QByteArray& line, const MeterColumns& columns) {
    if (line.startsWith('#'))
        return MeterRemark{line.mid(1).trimmed()};
    const QByteArrayList cells =
        columns.separator == ' ' ? line.simplified().split(' ') : line.split(columns.separator);
    MeterSample sample;
    const bool timed = !columns.time || number_at(cells, *columns.time, columns.time_unit_s, sample.t_s);
    if (!timed || !number_at(cells, columns.volts, columns.volts_unit, sample.volts) ||
        !number_at(cells, columns.amps, columns.amps_unit, sample.amps))
        return cells.size() > 1 && is_header(line) ? MeterLine(MeterHeader{}) : MeterLine(MeterNonsense{});
    if (std::abs(sample.t_s) > longest_session_s || !check_plausible(sample.volts, Unit::volts, {}) ||
        !check_plausible(sample.amps, Unit::amps, {}))
        return MeterNonsense{};
    return sample;
}

}  // namespace eh
