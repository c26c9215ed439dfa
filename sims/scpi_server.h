// SPDX-License-Identifier: GPL-3.0-or-later
// Serves a simulated SCPI instrument over TCP.
#pragma once

#include <QObject>
#include <QTcpServer>
#include <functional>
#include <memory>

#include "sims/bench_instruments.h"

namespace eh::sims {

class ScpiServer : public QObject {
    Q_OBJECT
  public:
    // `now_s` is the machine's clock.
    ScpiServer(std::unique_ptr<ScpiInstrument> instrument, std::function<double()> now_s,
               QObject* parent = nullptr);

    // Listens; false with errorString() when the address cannot be had. Port 0 takes any free one.
    bool listen(const QHostAddress& address, quint16 port) { return server_.listen(address, port); }
    [[nodiscard]] quint16 port() const { return server_.serverPort(); }
    [[nodiscard]] QString errorString() const { return server_.errorString(); }

  private:
    void accept();

    std::unique_ptr<ScpiInstrument> instrument_;
    std::function<double()> now_s_;
    QTcpServer server_;
};

}  // namespace eh::sims
