// SPDX-License-Identifier: GPL-3.0-or-later
// A CSV file on its way into a recording, beside the window.
#pragma once

#include <QObject>
#include <QTemporaryDir>
#include <memory>

#include "app/services/latest_task.h"
#include "core/trace/trace_record.h"

namespace eh {

class TraceImport : public QObject {
    Q_OBJECT
  public:
    explicit TraceImport(QObject* parent = nullptr) : QObject(parent) {}

    // Begins to read; one that is still being read is stopped.
    void start(const QString& file);
    void cancel() { reading_.stop(); }
    [[nodiscard]] bool running() const { return reading_.running(); }
    // The recording that was read, once; it lives in a folder that goes with this object.
    [[nodiscard]] std::unique_ptr<TraceRecord> take() { return std::move(record_); }
    [[nodiscard]] QString fileName() const { return name_; }

  signals:
    void progressed(double share);
    void finished(quint64 odd_lines);
    void failed(const QString& sentence);

  private:
    struct Imported {
        std::unique_ptr<TraceRecord> record;
        quint64 odd_lines = 0;
    };

    QTemporaryDir folder_;
    std::unique_ptr<TraceRecord> record_;
    QString name_;
    int serial_ = 0;
    LatestTask<Result<Imported>> reading_;  // goes first: it writes into the folder
};

}  // namespace eh
