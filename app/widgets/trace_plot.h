// SPDX-License-Identifier: GPL-3.0-or-later
// A stretch of a recording as two curves over time, with what happened named on it.
//
// Draws what the stream moved between in each column of pixels, however long the stretch is. Wheel and drag
// ask for another stretch; who owns the plot decides.
#pragma once

#include <QWidget>
#include <vector>

#include "core/trace/trace_record.h"

class QCustomPlot;
class QCPGraph;

namespace eh {

struct TraceMark {
    double t_s = 0.0;
    QString text;
    bool strong = true;  // what somebody took, against what was found by itself
};

class TracePlot : public QWidget {
    Q_OBJECT
  public:
    explicit TracePlot(QWidget* parent = nullptr);

    // Times on the axis are given from this moment; by its sign and length in seconds, minutes or hours.
    void setReference(double reference_s, const QString& name);
    // A hole of so many seconds between samples is drawn as dark.
    void setDarkAfter(double seconds) { dark_after_s_ = seconds; }
    void setMarks(std::vector<TraceMark> marks) { marks_ = std::move(marks); }
    // Nothing is said of the time before and after these, not even that the meter was dark.
    void setKnown(double from_s, double to_s);
    void draw(const TraceRecord& record, double from_s, double to_s);

    [[nodiscard]] double from_s() const { return from_s_; }
    [[nodiscard]] double to_s() const { return to_s_; }

  signals:
    void zoomAsked(double factor, double around_s);  // of the stretch's length
    void moveAsked(double seconds);

  protected:
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

  private:
    void drawCurves(const TraceRecord& record);
    void nameCurves(double t, double volts, double amps);
    void drawDark(double from_s, double to_s);
    void drawMarks(const TraceRecord& record);
    [[nodiscard]] double seconds_a_pixel() const;

    QCustomPlot* plot_;
    QCPGraph* volts_;
    QCPGraph* volts_beside_;
    QCPGraph* amps_;
    double from_s_ = 0.0;
    double to_s_ = 1.0;
    double reference_s_ = 0.0;
    QString reference_name_;
    double unit_s_ = 1.0;  // of the axis
    double dark_after_s_ = 0.5;
    double known_from_s_ = 0.0;
    double known_to_s_ = 0.0;
    double dragged_x_ = 0.0;
    std::vector<TraceMark> marks_;
};

}  // namespace eh
