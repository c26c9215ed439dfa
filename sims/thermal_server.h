// SPDX-License-Identifier: GPL-3.0-or-later
// A thermal camera over a simulated board: sends PGM frames over TCP while the supply goes on and off.
#pragma once

#include <QList>
#include <QObject>
#include <QTcpServer>
#include <QTimer>
#include <functional>

#include "core/thermal/heat_scene.h"

namespace eh::sims {

struct ThermalServerOptions {
    double rate_hz = 10.0;
    double period_s = 4.0;    // of the supply; on for half of it
    bool tells_power = true;  // whether frames say if the supply is on
};

class ThermalServer : public QObject {
    Q_OBJECT
  public:
    // `now_s` is the scene's clock.
    ThermalServer(HeatScene scene, const ThermalServerOptions& options, std::function<double()> now_s,
                  QObject* parent = nullptr);
    ~ThermalServer() override;

    bool listen(const QHostAddress& address, quint16 port) { return server_.listen(address, port); }
    [[nodiscard]] quint16 port() const { return server_.serverPort(); }
    [[nodiscard]] QString errorString() const { return server_.errorString(); }

  private:
    void accept();
    void sendFrame();

    HeatScene scene_;
    ThermalServerOptions options_;
    QTcpServer server_;
    QList<QTcpSocket*> clients_;
    QTimer timer_;
    std::function<double()> now_s_;
};

}  // namespace eh::sims
