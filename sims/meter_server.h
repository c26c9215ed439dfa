// Serves a MeterBench over TCP: CSV lines out, commands in.
#pragma once

#include <QElapsedTimer>
#include <QList>
#include <QObject>
#include <QTcpServer>
#include <QTimer>

#include "sims/meter_bench.h"

namespace eh::sims {

class MeterServer : public QObject {
    Q_OBJECT
  public:
    MeterServer(MeterBench bench, double rate_hz, QObject* parent = nullptr);

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
    [[nodiscard]] double now_s() const { return static_cast<double>(clock_.nsecsElapsed()) * 1e-9; }

    MeterBench bench_;
    QTcpServer server_;
    QList<QTcpSocket*> clients_;
    QTimer timer_;
    QElapsedTimer clock_;
};

}  // namespace eh::sims
