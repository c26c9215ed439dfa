// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/settings/preferences.h"

#include <QStringList>
#include <algorithm>

namespace eh {
namespace {

constexpr const char* school_key = "next/school";
constexpr const char* missing_key = "next/missing_instruments";
constexpr const char* reflow_key = "next/reflow_first";
constexpr const char* spares_key = "next/known_good_parts";
constexpr const char* second_key = "next/second_instruments";

}  // namespace

MeterColumns Preferences::meterColumns() const {
    const MeterColumns usual;
    MeterColumns columns;
    const int time = settings_.value("meter/time_column", *usual.time).toInt();
    columns.time = time >= 0 ? std::optional(time) : std::nullopt;
    columns.volts = settings_.value("meter/volts_column", usual.volts).toInt();
    columns.amps = settings_.value("meter/amps_column", usual.amps).toInt();
    columns.time_unit_s = settings_.value("meter/time_unit", usual.time_unit_s).toDouble();
    columns.volts_unit = settings_.value("meter/volts_unit", usual.volts_unit).toDouble();
    columns.amps_unit = settings_.value("meter/amps_unit", usual.amps_unit).toDouble();
    const QString separator =
        settings_.value("meter/separator", QString(QLatin1Char(usual.separator))).toString();
    columns.separator = separator.isEmpty() ? usual.separator : separator.front().toLatin1();
    return columns;
}

void Preferences::setMeterColumns(const MeterColumns& columns) {
    settings_.setValue("meter/time_column", columns.time.value_or(-1));
    settings_.setValue("meter/volts_column", columns.volts);
    settings_.setValue("meter/amps_column", columns.amps);
    settings_.setValue("meter/time_unit", columns.time_unit_s);
    settings_.setValue("meter/volts_unit", columns.volts_unit);
    settings_.setValue("meter/amps_unit", columns.amps_unit);
    settings_.setValue("meter/separator", QString(QLatin1Char(columns.separator)));
}

NextOptions Preferences::nextOptions() const {
    NextOptions options;
    const int school = settings_.value(school_key, 0).toInt();
    if (school >= 0 && school < school_count)
        options.school = static_cast<School>(school);
    options.reflow_first = settings_.value(reflow_key, options.reflow_first).toBool();
    options.known_good_parts = settings_.value(spares_key, options.known_good_parts).toBool();
    options.second_instruments = settings_.value(second_key, options.second_instruments).toBool();
    // What is missing is remembered, so that an instrument of a later version is owned until somebody says
    // no.
    for (const QString& name : settings_.value(missing_key).toStringList()) {
        const auto kind = reading_kind_from(name.toStdString());
        if (kind)
            options.instruments.erase(
                std::remove(options.instruments.begin(), options.instruments.end(), *kind),
                options.instruments.end());
    }
    return options;
}

void Preferences::setNextOptions(const NextOptions& options) {
    settings_.setValue(school_key, static_cast<int>(options.school));
    settings_.setValue(reflow_key, options.reflow_first);
    settings_.setValue(spares_key, options.known_good_parts);
    settings_.setValue(second_key, options.second_instruments);
    QStringList missing;
    for (const ReadingKind kind : NextOptions{}.instruments) {
        const auto& owned = options.instruments;
        if (std::find(owned.begin(), owned.end(), kind) == owned.end())
            missing += QString::fromStdString(to_text(kind));
    }
    settings_.setValue(missing_key, missing);
}

}  // namespace eh
