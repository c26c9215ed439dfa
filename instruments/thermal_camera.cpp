// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/thermal_camera.h"

namespace eh {
namespace {
constexpr int silence_ms = 3000;
}

ThermalCamera::ThermalCamera(QObject* parent) : QObject(parent) {
    wire_.takeBytes();
    silence_.setSingleShot(true);
    silence_.setInterval(silence_ms);
    clock_.start();
    connect(&wire_, &Wire::bytesArrived, this, &ThermalCamera::take);
    connect(&wire_, &Wire::opened, this, [this] {
        startAnew();
        silence_.start();
        emit changed();
    });
    connect(&wire_, &Wire::lost, this, [this] {
        startAnew();
        emit changed();
    });
    connect(&wire_, &Wire::changed, this, &ThermalCamera::changed);
    connect(&silence_, &QTimer::timeout, this, [this] {
        answers_ = false;
        emit changed();
    });
}

void ThermalCamera::open(const QString& address) {
    startAnew();
    wire_.open(address);
}

void ThermalCamera::close() {
    wire_.close();
    startAnew();
}

void ThermalCamera::startAnew() {
    stream_ = PgmStream();
    silence_.stop();
    answers_ = false;
}

QString ThermalCamera::problem() const {
    if (answers_)
        return {};
    if (wire_.state() == Wire::State::open)
        return tr("The camera at %1 is connected and sends no frames: is it looking?").arg(wire_.address());
    return wire_.problem();
}

void ThermalCamera::take(const QByteArray& bytes) {
    const auto read = stream_.feed(bytes.constData(), static_cast<std::size_t>(bytes.size()));
    const bool answered = answers_;
    while (!stream_.frames().empty()) {
        ThermalFrame frame = std::move(stream_.frames().front());
        stream_.frames().pop_front();
        if (!frame.t_s)
            frame.t_s = 1e-3 * static_cast<double>(clock_.elapsed());
        answers_ = true;
        ++frames_;
        silence_.start();
        emit frameArrived(frame);
    }
    if (!read) {
        wire_.drop(tr("What comes from %1 is no thermal frame (%2).")
                       .arg(wire_.address(), QString::fromStdString(read.error().message)));
        return;
    }
    if (!answered && answers_)
        emit changed();
}

}  // namespace eh
