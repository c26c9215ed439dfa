// The roll: the meter's stream along the bottom, with what was captured marked on it.
//
// Drawn at most ten times a second, and only when something is new or time moves with a meter connected.
#pragma once

#include <QTimer>
#include <QWidget>

#include "app/models/meter_recording.h"
#include "instruments/meter_feed.h"

class QCustomPlot;
class QCPGraph;
class QCPItemText;

namespace eh {

class RollView : public QWidget {
    Q_OBJECT
  public:
    RollView(MeterRecording& recording, MeterFeed& feed, QWidget* parent = nullptr);

    // Names a moment of the roll.
    void mark(double t_s, const QString& text);
    // Seconds that the roll shows at once.
    void setSpan(double seconds);
    [[nodiscard]] double span() const { return span_s_; }
    // Scrolls by a share of the span; back to the present with follow().
    void scroll(double share);
    void follow();
    [[nodiscard]] bool following() const { return following_; }

  protected:
    void wheelEvent(QWheelEvent* event) override;

  private:
    void refresh();
    void paintDark(double from_s, double to_s);

    MeterRecording& recording_;
    MeterFeed& feed_;
    QCustomPlot* plot_;
    QCPGraph* volts_;
    QCPGraph* amps_;
    QTimer timer_;
    double span_s_ = 60.0;
    double end_s_ = 0.0;
    bool following_ = true;
    std::vector<std::pair<double, QString>> marks_;
};

}  // namespace eh
