// SPDX-License-Identifier: GPL-3.0-or-later
// The push test: says which way to push, counts what drops out, and gives a verdict with numbers.
#pragma once

#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

#include "app/services/job_session.h"
#include "app/services/meter_recording.h"
#include "core/trace/wiggle.h"
#include "instruments/meter_feed.h"

namespace eh {

class PushPanel : public QWidget {
    Q_OBJECT
  public:
    PushPanel(JobSession& session, const MeterRecording& recording, const MeterFeed& feed,
              QWidget* parent = nullptr);

    void start();
    [[nodiscard]] bool running() const { return !steps_.empty() && timer_.isActive(); }
    [[nodiscard]] const WiggleReport& report() const { return report_; }
    [[nodiscard]] QPushButton& startButton() { return *start_; }
    [[nodiscard]] QPushButton& takeButton() { return *take_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }

  signals:
    void said(const QString& sentence);

  private:
    void tick();
    void finish();
    void takeReading();
    void showStretches();

    JobSession& session_;
    const MeterRecording& recording_;
    const MeterFeed& feed_;
    QTimer timer_;
    std::vector<WiggleStep> steps_;
    WiggleReport report_;
    BenchConfiguration bench_;  // as it stood
    QLabel* order_;
    QLabel* verdict_;
    QLabel* stretches_;
    QProgressBar* progress_;
    QPushButton* start_;
    QPushButton* take_;
};

}  // namespace eh
