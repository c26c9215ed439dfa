// SPDX-License-Identifier: GPL-3.0-or-later
// The live volts and amps, large enough for arm's length.
#pragma once

#include <QWidget>

#include "app/services/meter_recording.h"
#include "instruments/meter_feed.h"

namespace eh {

class LiveReadout : public QWidget {
    Q_OBJECT
  public:
    LiveReadout(MeterRecording& recording, MeterFeed& feed, QWidget* parent = nullptr);

    [[nodiscard]] QString state() const;  // "lit", "dark", what is wrong: one line for people
    [[nodiscard]] QSize sizeHint() const override { return {230, 150}; }

    // Whether there are volts and amps to show. Between two flashes the feed still counts as lit, but nothing
    // is there: that is dark, never 0.00 V.
    [[nodiscard]] bool hasNumbers() const;

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    MeterRecording& recording_;
    MeterFeed& feed_;
};

}  // namespace eh
