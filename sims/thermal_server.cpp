// SPDX-License-Identifier: GPL-3.0-or-later
#include "sims/thermal_server.h"

#include <QTcpSocket>
#include <cmath>

#include "core/thermal/frame_files.h"

namespace eh::sims {
namespace {

constexpr qint64 longest_frame_backlog = 4 << 20;  // a client that does not read is not waited for
constexpr ThermalScale sent_scale{0.002, -20.0};
constexpr double longest_jump_s = 1.0;

}  // namespace

ThermalServer::ThermalServer(HeatScene scene, const ThermalServerOptions& options,
                             std::function<double()> now_s, QObject* parent)
    : QObject(parent), scene_(std::move(scene)), options_(options), now_s_(std::move(now_s)) {
    connect(&server_, &QTcpServer::newConnection, this, &ThermalServer::accept);
    connect(&timer_, &QTimer::timeout, this, &ThermalServer::sendFrame);
    timer_.start(static_cast<int>(1000.0 / options_.rate_hz));
}

ThermalServer::~ThermalServer() {
    for (QTcpSocket* client : clients_)
        client->disconnect(this);
}

void ThermalServer::accept() {
    while (QTcpSocket* client = server_.nextPendingConnection()) {
        clients_.append(client);
        connect(client, &QTcpSocket::disconnected, this, [this, client] {
            clients_.removeAll(client);
            client->deleteLater();
        });
    }
}

void ThermalServer::sendFrame() {
    // A machine that slept does not make up for it.
    const double passed_s = std::min(now_s_() - scene_.now_s(), longest_jump_s);
    if (passed_s <= 0.0)
        return;
    const double cycles = scene_.now_s() / options_.period_s;
    scene_.advance(passed_s, cycles - std::floor(cycles) >= 0.5);
    if (clients_.isEmpty())
        return;
    ThermalFrame frame = scene_.frame();
    if (!options_.tells_power)
        frame.powered.reset();
    const QByteArray bytes = QByteArray::fromStdString(write_pgm(frame, sent_scale));
    for (QTcpSocket* client : clients_) {
        if (client->bytesToWrite() < longest_frame_backlog)
            client->write(bytes);
    }
}

}  // namespace eh::sims
