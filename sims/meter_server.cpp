// SPDX-License-Identifier: GPL-3.0-or-later
#include "sims/meter_server.h"

#include <QTcpSocket>
#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/usbc/message_list.h"

namespace eh::sims {
namespace {

constexpr int fastest_tick_ms = 5;
constexpr qint64 longest_command = 200;
constexpr qint64 longest_backlog = 1 << 20;  // a client that does not read is not waited for

}  // namespace

MeterServer::MeterServer(MeterBench bench, std::function<double()> now_s, QObject* parent)
    : QObject(parent), bench_(std::move(bench)), now_s_(std::move(now_s)) {
    connect(&server_, &QTcpServer::newConnection, this, &MeterServer::accept);
    connect(&timer_, &QTimer::timeout, this, &MeterServer::sendDue);
    timer_.setTimerType(Qt::PreciseTimer);
    timer_.start(std::max(fastest_tick_ms, static_cast<int>(1000.0 / bench_.rate_hz())));
}

MeterServer::~MeterServer() {
    for (QTcpSocket* client : clients_)
        client->disconnect(this);
}

bool MeterServer::listen(const QHostAddress& address, quint16 port) {
    return server_.listen(address, port);
}

void MeterServer::accept() {
    while (QTcpSocket* client = server_.nextPendingConnection()) {
        clients_.append(client);
        client->setSocketOption(QAbstractSocket::LowDelayOption, 1);
        connect(client, &QTcpSocket::readyRead, this, [this, client] { readCommands(client); });
        connect(client, &QTcpSocket::disconnected, this, [this, client] {
            clients_.removeAll(client);
            client->deleteLater();
        });
        // A line with # in front is a remark; this one tells the program that the bench can be steered.
        client->write("# eager-hound-sim meter 1\nt_s,volts,amps\n");
    }
}

void MeterServer::readCommands(QTcpSocket* client) {
    while (client->canReadLine()) {
        const QByteArray line = client->readLine(longest_command).trimmed();
        if (line.startsWith("talk"))
            sendTalk(client, line.mid(4).toDouble());
        else if (!line.isEmpty())
            client->write("# " +
                          QByteArray::fromStdString(bench_.machine().command(line.toStdString(), now_s_())) +
                          "\n");
    }
    if (client->bytesAvailable() > longest_command)
        client->abort();
}

// One remark a packet: seconds, line, and the packet as in a list of messages (docs/formats.md).
void MeterServer::sendTalk(QTcpSocket* client, double seconds) {
    constexpr double longest_s = 120.0;
    const auto frames = bench_.talk(std::clamp(seconds, 0.0, longest_s));
    const auto list = nlohmann::json::parse(pd::write_messages(frames));
    for (const auto& message : list["messages"])
        client->write("# talk " + QByteArray::fromStdString(json_text(message)) + "\n");
    client->write("# talk end\n");
}

void MeterServer::sendDue() {
    const auto samples = bench_.advance(now_s_());
    if (samples.empty())
        return;
    QByteArray text;
    for (const MeterSample& sample : samples)
        text += QByteArray::number(sample.t_s, 'f', 3) + ',' + QByteArray::number(sample.volts, 'f', 3) +
                ',' + QByteArray::number(sample.amps, 'f', 3) + '\n';
    for (QTcpSocket* client : clients_) {
        if (client->bytesToWrite() < longest_backlog)
            client->write(text);
    }
}

}  // namespace eh::sims
