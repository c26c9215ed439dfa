// SPDX-License-Identifier: GPL-3.0-or-later
// A thermal camera that sends frames as PGM pictures with their scale (docs/formats.md), over TCP or serial.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>

#include "core/thermal/frame_files.h"
#include "instruments/wire.h"

namespace eh {

class ThermalCamera : public QObject {
    Q_OBJECT
  public:
    explicit ThermalCamera(QObject* parent = nullptr);

    void open(const QString& address);
    void close();

    [[nodiscard]] const Wire& wire() const { return wire_; }
    // Connected, and a frame came within the last seconds.
    [[nodiscard]] bool answers() const { return answers_; }
    // Why it does not; empty when it does.
    [[nodiscard]] QString problem() const;
    [[nodiscard]] qint64 frames() const { return frames_; }

  signals:
    // Frames without a time get that of their arrival, in seconds of this object's clock.
    void frameArrived(const eh::ThermalFrame& frame);
    void changed();

  private:
    void take(const QByteArray& bytes);
    void startAnew();

    Wire wire_;
    PgmStream stream_;
    QTimer silence_;
    QElapsedTimer clock_;
    bool answers_ = false;
    qint64 frames_ = 0;
};

}  // namespace eh
