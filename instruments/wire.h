// SPDX-License-Identifier: GPL-3.0-or-later
// The line to an instrument, over TCP or serial: connects, and keeps at it with back-off.
//
// Never blocks: everything happens by signals of the event loop. Addresses read "host:port" for TCP, and
// "/dev/ttyUSB0" or "/dev/ttyUSB0@115200" for a serial line (8 data bits, no parity, one stop bit).
#pragma once

#include <QObject>
#include <QSerialPort>
#include <QTcpSocket>
#include <QTimer>

#include "instruments/line_splitter.h"

namespace eh {

class Wire : public QObject {
    Q_OBJECT
  public:
    enum class State {
        closed,      // no address, or one that cannot be read
        connecting,  // trying, or waiting to try again
        open,
    };
    Q_ENUM(State)

    static constexpr int default_baud = 115200;

    explicit Wire(QObject* parent = nullptr);
    ~Wire() override;

    // What arrives is handed over as it comes, by bytesArrived, and not cut into lines.
    void takeBytes() { lines_ = false; }
    // Connects and keeps at it until close(). An address that cannot be read stays closed, and problem() says
    // why.
    void open(const QString& address);
    void close();
    // Gives the present connection up, for a reason that problem() will give, and tries again later.
    void drop(const QString& why);

    [[nodiscard]] State state() const { return state_; }
    [[nodiscard]] QString address() const { return address_; }
    [[nodiscard]] QString problem() const { return problem_; }  // a sentence; empty when there is none
    [[nodiscard]] qint64 overlong_lines() const { return splitter_.overlong_lines(); }

    // Sends a line; false when nothing is open. The line end is added.
    bool send(const QByteArray& line);
    // Sends what is still waiting now, for at most so long: for words that must be out before the program
    // goes.
    void drain(int patience_ms);

  signals:
    void opened();
    void lost();  // what was open is no longer; it is being tried again
    void linesArrived(const QByteArrayList& lines);
    void bytesArrived(const QByteArray& bytes);
    void changed();  // the state, or the problem

  private:
    struct SerialAddress {
        QString device;
        qint32 baud = default_baud;
    };

    bool readAddress();
    void connectNow();
    void connected();
    void failed(const QString& problem);
    void readArrived();
    [[nodiscard]] QIODevice& device();
    [[nodiscard]] bool isSerial() const { return !serial_address_.device.isEmpty(); }

    QTcpSocket socket_;
    QSerialPort serial_;
    QTimer retry_;
    LineSplitter splitter_;
    bool lines_ = true;
    QString address_;
    QString host_;
    quint16 port_ = 0;
    SerialAddress serial_address_;
    QString problem_;
    State state_ = State::closed;
    int retry_ms_ = 0;
};

}  // namespace eh
