// SPDX-License-Identifier: GPL-3.0-or-later
// The roll: the meter's stream along the bottom, with what was captured and what happened named on it.
// Reaches from seconds to the whole job.
//
// Drawn at most ten times a second, and only when something is new or time moves with a meter connected.
#pragma once

#include <QTimer>
#include <QWidget>

#include "app/services/meter_recording.h"
#include "app/services/trace_watch.h"
#include "app/widgets/trace_plot.h"
#include "instruments/meter_feed.h"

namespace eh {

class RollView : public QWidget {
    Q_OBJECT
  public:
    RollView(MeterRecording& recording, MeterFeed& feed, TraceWatch& watch, QWidget* parent = nullptr);

    // Names a moment of the roll.
    void mark(double t_s, const QString& text);
    // Seconds that the roll shows at once.
    void setSpan(double seconds);
    [[nodiscard]] double span() const { return span_s_; }
    // The whole recording at once.
    void showAll();
    // Scrolls by a share of the span; back to the present with follow().
    void scroll(double share);
    void follow();
    [[nodiscard]] bool following() const { return following_; }
    [[nodiscard]] double end_s() const { return end_s_; }

  private:
    void zoom(double factor, double around_s);
    void moveTo(double end_s);
    void refresh();
    [[nodiscard]] double longest_s() const;

    MeterRecording& recording_;
    MeterFeed& feed_;
    TraceWatch& watch_;
    TracePlot* plot_;
    QTimer timer_;
    double span_s_ = 60.0;
    double end_s_ = 0.0;
    bool following_ = true;
    std::vector<TraceMark> marks_;
};

}  // namespace eh
