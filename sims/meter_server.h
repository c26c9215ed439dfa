// SPDX-License-Identifier: GPL-3.0-or-later
// Serves a MeterBench over TCP: CSV lines out, commands in.
#pragma once

#include <QList>
#include <QObject>
#include <QTcpServer>
#include <QTimer>
#include <functional>

#include "sims/meter_bench.h"

namespace eh::sims {

class MeterServer : public QObject {
    Q_OBJECT
  public:
    // `now_s` is the machine's clock.
    MeterServer(MeterBench bench, std::function<double()> now_s, QObject* parent = nullptr);

    ~MeterServer() override;

    // Listens; false with errorString() when the address cannot be had. Port 0 takes any free one.
    bool listen(const QHostAddress& address, quint16 port);
    [[nodiscard]] quint16 port() const { return server_.serverPort(); }
    [[nodiscard]] QString errorString() const { return server_.errorString(); }

  private:
    void sendTalk(QTcpSocket* client, double seconds);
    void accept();
    void readCommands(QTcpSocket* client);
    void sendDue();
    MeterBench bench_;
    QTcpServer server_;
    QList<QTcpSocket*> clients_;
    QTimer timer_;
    std::function<double()> now_s_;
};

}  // namespace eh::sims
