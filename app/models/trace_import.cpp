#include "app/models/trace_import.h"

#include <QFileInfo>
#include <QtConcurrent>
#include <algorithm>
#include <fstream>

#include "core/trace/trace_csv.h"

namespace eh {

TraceImport::TraceImport(QObject* parent) : QObject(parent) {
    connect(&work_, &QFutureWatcher<Outcome>::finished, this, &TraceImport::done);
}

TraceImport::~TraceImport() {
    work_.disconnect(this);
    stop_ = true;
    work_.waitForFinished();
}

void TraceImport::start(const QString& file) {
    stop_ = true;
    work_.waitForFinished();
    stop_ = false;
    name_ = QFileInfo(file).fileName();
    const std::string to = (folder_.path() + QStringLiteral("/%1.trace").arg(++serial_)).toStdString();
    work_.setFuture(QtConcurrent::run([this, from = file.toStdString(), name = name_.toStdString(), to] {
        Outcome outcome;
        std::ifstream stream(from, std::ios::binary | std::ios::ate);
        if (!stream) {
            outcome.problem = tr("%1 cannot be opened; look whether it is still there.").arg(name_);
            return outcome;
        }
        const double bytes = std::max(1.0, static_cast<double>(stream.tellg()));
        stream.seekg(0);
        auto record = TraceRecord::open(to);
        if (!record) {
            outcome.problem = QString::fromStdString(record.error().text());
            return outcome;
        }
        TraceRecord& target = **record;
        const auto odd = scan_trace_csv(
            stream, name, [&](std::span<const MeterSample> samples) { target.append(samples); },
            [&](std::uint64_t read) {
                emit progressed(static_cast<double>(read) / bytes);
                return !stop_.load();
            });
        const auto flushed = target.flush();
        if (!odd)
            outcome.problem = QString::fromStdString(odd.error().text());
        else if (!flushed)
            outcome.problem = QString::fromStdString(flushed.error().text());
        else
            outcome.record = std::make_shared<std::unique_ptr<TraceRecord>>(std::move(record).value());
        outcome.odd_lines = odd ? *odd : 0;
        return outcome;
    }));
}

void TraceImport::done() {
    const Outcome outcome = work_.result();
    if (outcome.record == nullptr) {
        emit failed(outcome.problem);
        return;
    }
    record_ = std::move(*outcome.record);
    emit finished(outcome.odd_lines);
}

}  // namespace eh
