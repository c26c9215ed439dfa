#include "app/models/talk_recording.h"

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
    frames_ = std::move(frames).value();
    known_ = true;
    origin_ = tr("recorder on the bench, %1 s from plugging in").arg(recorded_s);
    emit changed();
}

void TalkRecording::load(const QString& file) {
    using Progress = BackgroundReading<std::vector<pd::SeenFrame>>::Progress;
    const auto read = [file](const Progress& progress) -> Result<std::vector<pd::SeenFrame>> {
        const double bytes = std::max(1.0, static_cast<double>(QFileInfo(file).size()));
        pd::CaptureOptions options;
        bool stopped = false;
        options.progress = [&](std::uint64_t read_bytes) {
            stopped = !progress(static_cast<double>(read_bytes) / bytes);
        };
        options.stop = [&] { return stopped; };
        auto capture = pd::read_capture(file.toStdString(), options);
        if (!capture)
            return capture.error();
        return std::move(std::move(capture).value().frames);
    };
    reading_.start(
        read, [this](double share) { emit progressed(share); },
        [this, name = QFileInfo(file).fileName()](Result<std::vector<pd::SeenFrame>> frames) {
            if (!frames) {
                emit refused(QString::fromStdString(frames.error().text()));
                return;
            }
            frames_ = std::move(frames).value();
            known_ = true;
            origin_ = name;
            emit changed();
        });
}

void TalkRecording::clear() {
    frames_.clear();
    known_ = false;
    origin_.clear();
    emit changed();
}

}  // namespace eh
