#include "instruments/meter_dialect.h"

#include <QByteArrayList>
#include <cmath>

#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double longest_session_s = 1e9;

bool number_at(const QByteArrayList& columns, int index, double& value) {
    bool good = false;
    value = columns[index].trimmed().toDouble(&good);  // always with a decimal point, whatever the locale
    return good && std::isfinite(value);
}

}  // namespace

MeterLine parse_meter_line(const QByteArray& line) {
    if (line.startsWith('#'))
        return MeterRemark{line.mid(1).trimmed()};
    const QByteArrayList columns = line.split(',');
    if (columns.first().trimmed() == "t_s")
        return MeterHeader{};
    MeterSample sample;
    if (columns.size() < 3 || !number_at(columns, 0, sample.t_s) || !number_at(columns, 1, sample.volts) ||
        !number_at(columns, 2, sample.amps))
        return MeterNonsense{};
    if (std::abs(sample.t_s) > longest_session_s || !check_plausible(sample.volts, Unit::volts, {}) ||
        !check_plausible(sample.amps, Unit::amps, {}))
        return MeterNonsense{};
    return sample;
}

}  // namespace eh
