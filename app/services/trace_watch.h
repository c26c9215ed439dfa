// SPDX-License-Identifier: GPL-3.0-or-later
// Reads the stream while it comes: states and events of the last minutes, worked out beside the window.
#pragma once

#include <QObject>
#include <QTimer>

#include "app/services/latest_task.h"
#include "app/services/meter_recording.h"
#include "core/trace/trace_events.h"
#include "instruments/meter_feed.h"

namespace eh {

class TraceWatch : public QObject {
    Q_OBJECT
  public:
    TraceWatch(const MeterRecording& recording, const MeterFeed& feed, QObject* parent = nullptr);

    // What the last look found; times are the stream's.
    [[nodiscard]] const TraceReading& reading() const { return reading_; }
    [[nodiscard]] const std::vector<TraceEvent>& events() const { return events_; }  // in outline
    // The stretch that it looked at.
    [[nodiscard]] double from_s() const { return from_s_; }
    [[nodiscard]] double to_s() const { return to_s_; }

  signals:
    void changed();

  private:
    void look();

    const MeterRecording& recording_;
    const MeterFeed& feed_;
    QTimer timer_;
    LatestTask<TraceReading> work_;
    std::uint64_t looked_at_ = 0;  // samples that there were
    double from_s_ = 0.0;
    double to_s_ = 0.0;
    TraceReading reading_;
    std::vector<TraceEvent> events_;
};

}  // namespace eh
