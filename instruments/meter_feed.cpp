#include "instruments/meter_feed.h"

#include <algorithm>

#include "instruments/meter_dialect.h"

namespace eh {
namespace {

constexpr int first_retry_ms = 250;
constexpr int longest_retry_ms = 5000;
constexpr int dark_after_ms = 500;
constexpr qint64 read_buffer_bytes = 1 << 18;  // what a source that floods may occupy

}  // namespace

MeterFeed::MeterFeed(QObject* parent) : QObject(parent) {
    clock_.start();
    socket_.setReadBufferSize(read_buffer_bytes);
    retry_.setSingleShot(true);
    silence_.setSingleShot(true);
    silence_.setInterval(dark_after_ms);
    connect(&retry_, &QTimer::timeout, this, &MeterFeed::connectNow);
    connect(&silence_, &QTimer::timeout, this, [this] { setState(State::dark); });
    connect(&socket_, &QTcpSocket::readyRead, this, &MeterFeed::readArrived);
    connect(&socket_, &QTcpSocket::connected, this, [this] {
        retry_ms_ = first_retry_ms;
        problem_.clear();
        connected_s_ = now_s();
        silence_.start();
    });
    connect(&socket_, &QTcpSocket::disconnected, this,
            [this] { retryLater(tr("The meter closed the connection.")); });
    connect(&socket_, &QTcpSocket::errorOccurred, this, [this] {
        if (socket_.state() != QAbstractSocket::ConnectedState)
            retryLater(tr("No meter answers at %1: %2.").arg(address_, socket_.errorString()));
    });
}

MeterFeed::~MeterFeed() {
    // A socket that is still connected says so when it dies, after the members that would listen are gone.
    socket_.disconnect(this);
    socket_.abort();
}

void MeterFeed::open(const QString& address) {
    close();
    address_ = address.trimmed();
    const qsizetype colon = address_.lastIndexOf(u':');
    bool number = false;
    const uint port = address_.mid(colon + 1).toUInt(&number);
    host_ = address_.left(colon);
    if (colon <= 0 || !number || port == 0 || port > 65535) {
        problem_ = tr("“%1” is not host:port; write for instance 127.0.0.1:5025.").arg(address_);
        emit stateChanged(state_);
        return;
    }
    port_ = static_cast<quint16>(port);
    retry_ms_ = first_retry_ms;
    setState(State::connecting);
    connectNow();
}

void MeterFeed::close() {
    retry_.stop();
    silence_.stop();
    host_.clear();
    problem_.clear();
    socket_.abort();
    setState(State::idle);
}

void MeterFeed::connectNow() {
    splitter_.reset();
    source_clock_.reset();
    steerable_ = false;
    socket_.abort();
    socket_.connectToHost(host_, port_);
}

void MeterFeed::retryLater(const QString& problem) {
    if (host_.isEmpty() || retry_.isActive())
        return;
    silence_.stop();
    problem_ = problem;
    if (state_ == State::lit || state_ == State::dark)
        emit gapStarted(now_s());
    setState(State::connecting);
    emit stateChanged(state_);  // the problem may be a new one
    retry_.start(retry_ms_);
    retry_ms_ = std::min(2 * retry_ms_, longest_retry_ms);
}

void MeterFeed::readArrived() {
    std::vector<MeterSample> samples;
    const qint64 nonsense_before = nonsense_lines();
    for (const QByteArray& line : splitter_.feed(socket_.readAll())) {
        const MeterLine parsed = parse_meter_line(line);
        if (const auto* sample = std::get_if<MeterSample>(&parsed)) {
            samples.push_back(*sample);
        } else if (const auto* remark = std::get_if<MeterRemark>(&parsed)) {
            if (remark->text.startsWith("eager-hound-sim")) {
                steerable_ = true;
                emit steerableFound();
            }
            emit remarked(remark->text);
        } else if (std::holds_alternative<MeterNonsense>(parsed)) {
            ++nonsense_lines_;
        }
    }
    if (nonsense_lines() != nonsense_before)
        emit nonsenseCounted(nonsense_lines());
    if (samples.empty())
        return;
    source_clock_.place(samples, now_s());
    silence_.start();
    setState(State::lit);
    emit samplesArrived(samples);
}

void MeterFeed::command(const QByteArray& line) {
    if (steerable_ && socket_.state() == QAbstractSocket::ConnectedState)
        socket_.write(line + '\n');
}

void MeterFeed::setState(State state) {
    if (state_ == state)
        return;
    state_ = state;
    emit stateChanged(state);
}

}  // namespace eh
