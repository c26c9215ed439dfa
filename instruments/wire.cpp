// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/wire.h"

#include <algorithm>

namespace eh {
namespace {

constexpr int first_retry_ms = 250;
constexpr int longest_retry_ms = 5000;
constexpr qint64 read_buffer_bytes = 1 << 18;  // what a source that floods may occupy

}  // namespace

Wire::Wire(QObject* parent) : QObject(parent) {
    socket_.setReadBufferSize(read_buffer_bytes);
    serial_.setReadBufferSize(read_buffer_bytes);
    retry_.setSingleShot(true);
    connect(&retry_, &QTimer::timeout, this, &Wire::connectNow);
    connect(&socket_, &QTcpSocket::readyRead, this, &Wire::readArrived);
    connect(&serial_, &QSerialPort::readyRead, this, &Wire::readArrived);
    connect(&socket_, &QTcpSocket::connected, this, &Wire::connected);
    connect(&socket_, &QTcpSocket::disconnected, this,
            [this] { failed(tr("The instrument at %1 closed the connection.").arg(address_)); });
    connect(&socket_, &QTcpSocket::errorOccurred, this, [this] {
        if (socket_.state() != QAbstractSocket::ConnectedState)
            failed(tr("Nothing answers at %1: %2.").arg(address_, socket_.errorString()));
    });
    connect(&serial_, &QSerialPort::errorOccurred, this, [this](QSerialPort::SerialPortError error) {
        // What a pseudo-terminal cannot do (modem lines) is no reason to go.
        const bool gone = error == QSerialPort::ResourceError || error == QSerialPort::ReadError ||
                          error == QSerialPort::WriteError;
        if (state_ == State::open && gone)
            failed(tr("The serial line %1 is gone; is the plug still in?").arg(serial_address_.device));
    });
}

Wire::~Wire() {
    // A socket that is still connected says so when it dies, after the members that would listen are gone.
    socket_.disconnect(this);
    serial_.disconnect(this);
    socket_.abort();
    serial_.close();
}

QIODevice& Wire::device() {
    return isSerial() ? static_cast<QIODevice&>(serial_) : static_cast<QIODevice&>(socket_);
}

bool Wire::readAddress() {
    serial_address_ = {};
    host_.clear();
    if (address_.startsWith(u'/')) {
        const qsizetype at = address_.lastIndexOf(u'@');
        bool number = true;
        if (at > 0)
            serial_address_.baud = address_.mid(at + 1).toInt(&number);
        serial_address_.device = address_.left(at > 0 ? at : address_.size());
        if (number && serial_address_.baud > 0)
            return true;
        problem_ = tr("“%1” is no serial line; write for instance /dev/ttyUSB0@115200.").arg(address_);
        serial_address_ = {};
        return false;
    }
    const qsizetype colon = address_.lastIndexOf(u':');
    bool number = false;
    const uint port = address_.mid(colon + 1).toUInt(&number);
    if (colon > 0 && number && port > 0 && port <= 65535) {
        host_ = address_.left(colon);
        port_ = static_cast<quint16>(port);
        return true;
    }
    problem_ = tr("“%1” is not host:port; write for instance 127.0.0.1:5025, or /dev/ttyUSB0 for a serial "
                  "line.")
                   .arg(address_);
    return false;
}

void Wire::open(const QString& address) {
    close();
    address_ = address.trimmed();
    if (!readAddress()) {
        emit changed();
        return;
    }
    retry_ms_ = first_retry_ms;
    state_ = State::connecting;
    emit changed();
    connectNow();
}

void Wire::close() {
    const bool was_closed = state_ == State::closed && problem_.isEmpty();
    retry_.stop();
    state_ = State::closed;
    problem_.clear();
    socket_.abort();
    serial_.close();
    if (!was_closed)
        emit changed();
}

void Wire::connectNow() {
    splitter_.reset();
    socket_.abort();
    serial_.close();
    if (!isSerial()) {
        socket_.connectToHost(host_, port_);
        return;
    }
    serial_.setPortName(serial_address_.device);
    serial_.setBaudRate(serial_address_.baud);
    if (serial_.open(QIODevice::ReadWrite))
        connected();
    else
        failed(tr("The serial line %1 cannot be opened: %2.")
                   .arg(serial_address_.device, serial_.errorString()));
}

void Wire::connected() {
    if (state_ == State::closed)
        return;
    problem_.clear();
    state_ = State::open;
    emit changed();
    emit opened();
}

void Wire::drop(const QString& why) {
    if (state_ != State::open)
        return;
    failed(why);
}

void Wire::failed(const QString& problem) {
    if (state_ == State::closed || retry_.isActive())
        return;
    const bool was_open = state_ == State::open;
    problem_ = problem;
    state_ = State::connecting;
    retry_.start(retry_ms_);
    retry_ms_ = std::min(2 * retry_ms_, longest_retry_ms);
    socket_.abort();
    serial_.close();
    if (was_open)
        emit lost();
    emit changed();
}

void Wire::readArrived() {
    if (state_ != State::open)
        return;
    // Only who says something is there: one that accepts and hangs up is tried less and less often.
    retry_ms_ = first_retry_ms;
    if (!lines_) {
        emit bytesArrived(device().readAll());
        return;
    }
    const QByteArrayList lines = splitter_.feed(device().readAll());
    if (!lines.isEmpty())
        emit linesArrived(lines);
}

bool Wire::send(const QByteArray& line) {
    if (state_ != State::open)
        return false;
    return device().write(line + '\n') > 0;
}

void Wire::drain(int patience_ms) {
    if (state_ == State::open && device().bytesToWrite() > 0)
        device().waitForBytesWritten(patience_ms);
}

}  // namespace eh
