// SPDX-License-Identifier: GPL-3.0-or-later
// What a captured reading is made of: the stream since the bench last changed. One rule for every page that
// captures.
#pragma once

#include <QObject>
#include <optional>
#include <variant>
#include <vector>

#include "app/services/job_session.h"
#include "app/services/meter_recording.h"
#include "core/trace/capture.h"
#include "instruments/meter_feed.h"

namespace eh {

class MeterCapture : public QObject {
    Q_OBJECT
  public:
    // Watches the job of `session` for changes of the bench that matter to the volts at the plug.
    MeterCapture(JobSession& session, const MeterRecording& recording, const MeterFeed& feed,
                 QObject* parent = nullptr);

    // What the meter shows of the bench as it stands now, or a sentence that says why nothing can be taken.
    [[nodiscard]] std::variant<Capture, QString> take() const;
    // What the meter sent of the bench as it stands now, for the small trace of the sheet: the last 20 s.
    [[nodiscard]] std::vector<MeterSample> trace() const;
    // Everything that was recorded between two moments since 1970.
    [[nodiscard]] std::vector<MeterSample> recorded(std::int64_t from_ms, std::int64_t to_ms) const;
    // How the bench stood at a moment of the stream; nullopt before the job was opened.
    [[nodiscard]] std::optional<BenchConfiguration> benchAt(double t_s) const;

  private:
    void noteBenchChange();

    JobSession& session_;
    const MeterRecording& recording_;
    const MeterFeed& feed_;
    struct Change {
        double t_s = 0.0;
        BenchConfiguration bench;  // from then on
    };

    void forget();

    BenchConfiguration bench_;
    double changed_s_ = 0.0;
    std::vector<Change> changes_;  // since the job was opened, in the order of time
};

}  // namespace eh
