// SPDX-License-Identifier: GPL-3.0-or-later
#include "sims/scpi_server.h"

#include <QTcpSocket>

namespace eh::sims {
namespace {

constexpr qint64 longest_line = 1024;

}  // namespace

ScpiServer::ScpiServer(std::unique_ptr<ScpiInstrument> instrument, std::function<double()> now_s,
                       QObject* parent)
    : QObject(parent), instrument_(std::move(instrument)), now_s_(std::move(now_s)) {
    connect(&server_, &QTcpServer::newConnection, this, &ScpiServer::accept);
}

void ScpiServer::accept() {
    while (QTcpSocket* client = server_.nextPendingConnection()) {
        client->setSocketOption(QAbstractSocket::LowDelayOption, 1);
        connect(client, &QTcpSocket::disconnected, client, &QObject::deleteLater);
        connect(client, &QTcpSocket::readyRead, this, [this, client] {
            while (client->canReadLine()) {
                const std::string answer =
                    instrument_->answer(client->readLine(longest_line).toStdString(), now_s_());
                if (!answer.empty())
                    client->write(QByteArray::fromStdString(answer) + '\n');
            }
            if (client->bytesAvailable() > longest_line)
                client->abort();
        });
    }
}

}  // namespace eh::sims
