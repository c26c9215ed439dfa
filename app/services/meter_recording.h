// SPDX-License-Identifier: GPL-3.0-or-later
// The stream of the inline meter as it came, with its gaps, on disk for the whole job. Always recording:
// capturing only names a moment of it.
#pragma once

#include <QObject>
#include <QTemporaryDir>
#include <QTimer>
#include <filesystem>
#include <memory>
#include <vector>

#include "core/base/identifier.h"
#include "core/trace/meter_summary.h"
#include "core/trace/trace_record.h"

namespace eh {

class MeterRecording : public QObject {
    Q_OBJECT
  public:
    // Keeps to a temporary file until it is told better.
    explicit MeterRecording(QObject* parent = nullptr);
    ~MeterRecording() override;

    // Where the recordings of jobs are kept from now on; an empty path: nowhere, only while the program runs.
    void keepIn(const std::filesystem::path& folder) { folder_ = folder; }
    // Goes on with the recording of a job, or begins it. now_s is the stream's clock: a recording that claims
    // to be of later (a clock was set back) is put aside under another name.
    void openJob(const JobId& id, double now_s);

    void append(const std::vector<MeterSample>& samples);
    void markGap(double t_s);

    [[nodiscard]] const TraceRecord& record() const { return *record_; }
    [[nodiscard]] bool empty() const { return record_->empty(); }
    // The samples with from_s <= t < to_s, in order.
    [[nodiscard]] std::vector<MeterSample> between(double from_s, double to_s) const {
        return record_->between(from_s, to_s);
    }
    // What the last `seconds` before now_s amount to.
    [[nodiscard]] MeterSummary lastSeconds(double now_s, double seconds) const;

  signals:
    void appended();
    void opened();                          // another recording is in its place
    void trouble(const QString& sentence);  // it cannot be written

  private:
    void flush();
    void use(const std::filesystem::path& file);

    QTemporaryDir temporary_;
    std::filesystem::path folder_;
    std::unique_ptr<TraceRecord> record_;
    QTimer flush_;
    int unnamed_ = 0;
    bool said_trouble_ = false;
};

}  // namespace eh
