// SPDX-License-Identifier: GPL-3.0-or-later
// What volts and amps together say about ohms: upstream of the meter from the stream alone, and of the
// contact with a second reading on the board.
#pragma once

#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/services/job_session.h"
#include "app/services/meter_recording.h"
#include "core/machine/model/knowledge.h"
#include "core/trace/trace_events.h"
#include "instruments/meter_feed.h"

namespace eh {

class Multimeter;

class OhmsPanel : public QWidget {
    Q_OBJECT
  public:
    OhmsPanel(JobSession& session, const MeterRecording& recording, const MeterFeed& feed,
              Multimeter& multimeter, const Knowledge& knowledge, QWidget* parent = nullptr);

    void show(const TraceReading& reading);
    [[nodiscard]] QDoubleSpinBox& boardVolts() { return *board_volts_; }
    [[nodiscard]] QString source() const { return source_->text(); }
    [[nodiscard]] QString contact() const { return contact_->text(); }

  private:
    void workOut();
    void takeMultimeter();

    JobSession& session_;
    const MeterRecording& recording_;
    const MeterFeed& feed_;
    Multimeter& multimeter_;
    const Knowledge& knowledge_;
    QLabel* source_;
    QLabel* need_;
    QLabel* contact_;
    QDoubleSpinBox* board_volts_;
    QPushButton* from_multimeter_;
};

}  // namespace eh
