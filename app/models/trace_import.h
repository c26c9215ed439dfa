// A CSV file on its way into a recording, beside the window.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QTemporaryDir>
#include <atomic>
#include <memory>
#include <optional>

#include "core/trace/trace_record.h"

namespace eh {

class TraceImport : public QObject {
    Q_OBJECT
  public:
    explicit TraceImport(QObject* parent = nullptr);
    ~TraceImport() override;

    // Begins to read; one that is still being read is stopped.
    void start(const QString& file);
    void cancel() { stop_ = true; }
    [[nodiscard]] bool running() const { return work_.isRunning(); }
    // The recording that was read, once; it lives in a folder that goes with this object.
    [[nodiscard]] std::unique_ptr<TraceRecord> take() { return std::move(record_); }
    [[nodiscard]] QString fileName() const { return name_; }

  signals:
    void progressed(double share);
    void finished(quint64 odd_lines);
    void failed(const QString& sentence);

  private:
    struct Outcome {
        std::shared_ptr<std::unique_ptr<TraceRecord>> record;
        quint64 odd_lines = 0;
        QString problem;
    };
    void done();

    QTemporaryDir folder_;
    QFutureWatcher<Outcome> work_;
    std::atomic<bool> stop_ = false;
    std::unique_ptr<TraceRecord> record_;
    QString name_;
    int serial_ = 0;
};

}  // namespace eh
