// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/trace_import.h"

#include <QFileInfo>
#include <algorithm>
#include <fstream>

#include "core/trace/trace_csv.h"

namespace eh {

void TraceImport::start(const QString& file) {
    name_ = QFileInfo(file).fileName();
    const std::string to = (folder_.path() + QStringLiteral("/%1.trace").arg(++serial_)).toStdString();
    const auto read = [from = file.toStdString(), name = name_.toStdString(),
                       to](const TaskControl& control) -> Result<Imported> {
        std::ifstream stream(from, std::ios::binary | std::ios::ate);
        if (!stream)
            return Error{ErrorKind::not_found, "this file cannot be opened; look whether it is still there",
                         name};
        const double bytes = std::max(1.0, static_cast<double>(stream.tellg()));
        stream.seekg(0);
        auto record = TraceRecord::open(to);
        if (!record)
            return record.error();
        Imported imported{std::move(record).value(), 0};
        const auto odd = scan_trace_csv(
            stream, name, [&](std::span<const MeterSample> samples) { imported.record->append(samples); },
            [&](std::uint64_t read_bytes) {
                return control.goes_on(static_cast<double>(read_bytes) / bytes);
            });
        if (!odd)
            return odd.error();
        if (const auto flushed = imported.record->flush(); !flushed)
            return flushed.error();
        imported.odd_lines = *odd;
        return imported;
    };
    reading_.start(
        read,
        [this](Result<Imported> imported) {
            if (!imported) {
                emit failed(QString::fromStdString(imported.error().text()));
                return;
            }
            Imported whole = std::move(imported).value();
            record_ = std::move(whole.record);
            emit finished(whole.odd_lines);
        },
        [this](double share) { emit progressed(share); });
}

}  // namespace eh
