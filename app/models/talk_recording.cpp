#include "app/models/talk_recording.h"

#include <QFileInfo>

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
    if (!frames)
        return;
    frames_ = std::move(frames).value();
    known_ = true;
    origin_ = tr("recorder on the bench, %1 s from plugging in").arg(recorded_s);
    emit changed();
}

Outcome TalkRecording::load(const QString& file) {
    auto capture = pd::read_capture(file.toStdString());
    if (!capture)
        return capture.error();
    frames_ = std::move(std::move(capture).value().frames);
    known_ = true;
    origin_ = QFileInfo(file).fileName();
    emit changed();
    return Done{};
}

void TalkRecording::clear() {
    frames_.clear();
    known_ = false;
    origin_.clear();
    emit changed();
}

}  // namespace eh
