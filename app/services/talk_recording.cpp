// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/talk_recording.h"

#include <QFileInfo>
#include <algorithm>

#include "core/usbc/message_list.h"

namespace eh {
namespace {
constexpr int recorded_s = 20;
}

TalkRecording::TalkRecording(MeterFeed& feed, QObject* parent) : QObject(parent), feed_(feed) {
    connect(&feed_, &MeterFeed::remarked, this, &TalkRecording::take);
    connect(&feed_, &MeterFeed::steerableFound, this, &TalkRecording::recorderFound);
}

void TalkRecording::record() {
    arriving_.clear();
    feed_.command("talk " + QByteArray::number(recorded_s));
}

void TalkRecording::take(const QByteArray& remark) {
    if (!remark.startsWith("talk "))
        return;
    const QByteArray packet = remark.mid(5).trimmed();
    if (packet != "end") {
        arriving_ += (arriving_.empty() ? "" : ",") + packet.toStdString();
        return;
    }
    auto frames = pd::parse_messages(
        R"({"format": "eager-hound.messages/1", "messages": [)" + arriving_ + "]}", "recorder");
    arriving_.clear();
    if (!frames) {
        emit refused(tr("The recorder's packets cannot be read: %1")
                         .arg(QString::fromStdString(frames.error().text())));
        return;
    }
    capture_ = {};
    capture_.frames = std::move(frames).value();
    file_.clear();
    known_ = true;
    origin_ = tr("recorder on the bench, %1 s from plugging in").arg(recorded_s);
    emit changed();
}

void TalkRecording::load(const QString& file, const pd::CaptureOptions& how) {
    const auto read = [file, how](const TaskControl& control) -> Result<pd::Capture> {
        const double bytes = std::max(1.0, static_cast<double>(QFileInfo(file).size()));
        pd::CaptureOptions options = how;
        bool stopped = false;
        options.progress = [&](std::uint64_t read_bytes) {
            stopped = !control.goes_on(static_cast<double>(read_bytes) / bytes);
        };
        options.stop = [&] { return stopped; };
        return pd::read_capture(file.toStdString(), options);
    };
    reading_.start(
        read,
        [this, file, how](Result<pd::Capture> capture) {
            if (!capture) {
                emit refused(QString::fromStdString(capture.error().text()));
                return;
            }
            capture_ = std::move(capture).value();
            how_ = how;
            file_ = file;
            known_ = true;
            origin_ = QFileInfo(file).fileName();
            emit changed();
            if (capture_.report.question)
                emit unclear();
        },
        [this](double share) { emit progressed(share); });
}

void TalkRecording::loadAgain(const pd::CaptureOptions& how) {
    if (fromFile())
        load(file_, how);
}

void TalkRecording::clear() {
    capture_ = {};
    how_ = {};
    file_.clear();
    known_ = false;
    origin_.clear();
    emit changed();
}

}  // namespace eh
