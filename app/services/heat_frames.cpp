// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/heat_frames.h"

#include <QDateTime>
#include <QFileInfo>
#include <algorithm>
#include <fstream>

#include "app/format/text.h"

namespace eh {
namespace {

constexpr std::size_t most_frames = 900;  // a minute and a half at ten a second

}  // namespace

void HeatFrames::take(ThermalFrame frame) {
    if (!frames_.empty() && !frames_.back()->frame.same_size(frame)) {
        frames_.clear();
        emit begunAnew();
    }
    const std::size_t room =
        std::clamp<std::size_t>(most_frame_bytes / std::max<std::size_t>(1, bytes_of(frame)), 1, most_frames);
    frames_.push_back(std::make_shared<const Taken>(
        Taken{std::move(frame), 1e-3 * static_cast<double>(QDateTime::currentMSecsSinceEpoch())}));
    while (frames_.size() > room)
        frames_.pop_front();
    ++came_;
    emit taken();
}

void HeatFrames::clear() {
    frames_.clear();
    came_ = 0;
    emit begunAnew();
}

std::vector<HeatFrames::Shared> HeatFrames::latest(std::size_t count) const {
    const std::size_t own = std::min(count, frames_.size());
    return {frames_.end() - static_cast<std::ptrdiff_t>(own), frames_.end()};
}

void HeatFrames::openFiles(const QStringList& files) {
    clear();
    QStringList sorted = files;
    sorted.sort();
    reading_.start([sorted](const TaskControl& control) { return readFiles(sorted, control); },
                   [this](Files own) {
                       for (ThermalFrame& frame : own.frames) {
                           if (!frame.t_s)
                               frame.t_s = static_cast<double>(came_);
                           take(std::move(frame));
                       }
                       emit filesRead(own.remarks);
                   },
                   [this](double share) { emit progressed(share); });
}

HeatFrames::Files HeatFrames::readFiles(const QStringList& files, const TaskControl& control) {
    Files all;
    double total = 1.0;
    for (const QString& file : files)
        total += static_cast<double>(QFileInfo(file).size());
    double before = 0.0;
    bool goes_on = true;
    for (const QString& file : files) {
        FrameReading how;
        how.progress = [&](std::uint64_t bytes) {
            goes_on = control.goes_on((before + static_cast<double>(bytes)) / total);
            return goes_on;
        };
        auto read = read_frame_file(file.toStdString(), how);
        before += static_cast<double>(QFileInfo(file).size());
        if (!goes_on)
            break;
        if (!read) {
            all.remarks += format::qt(read.error().text());
            continue;
        }
        FrameFile own = std::move(read).value();
        for (const std::string& remark : own.remarks)
            all.remarks += format::qt(remark);
        std::move(own.frames.begin(), own.frames.end(), std::back_inserter(all.frames));
        keep_latest(all.frames, most_frame_bytes);
    }
    if (!goes_on)
        all.remarks.prepend(
            all.frames.empty()
                ? tr("Stopped; no frame was taken.")
                : tr("Stopped; the %1 frames of the files before are kept.").arg(all.frames.size()));
    return all;
}

}  // namespace eh
