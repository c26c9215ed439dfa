// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/trace_watch.h"

#include <QtConcurrent>
#include <algorithm>

namespace eh {
namespace {

constexpr int look_ms = 1000;
constexpr double longest_look_s = 600.0;
constexpr double most_samples = 120'000.0;  // of a fast meter, that are copied for a look

}  // namespace

TraceWatch::TraceWatch(const MeterRecording& recording, const MeterFeed& feed, QObject* parent)
    : QObject(parent), recording_(recording), feed_(feed) {
    connect(&timer_, &QTimer::timeout, this, &TraceWatch::look);
    connect(&work_, &QFutureWatcher<TraceReading>::finished, this, [this] {
        reading_ = work_.result();
        events_ = outline_of(reading_.events);
        from_s_ = asked_from_s_;
        to_s_ = asked_to_s_;
        emit changed();
    });
    connect(&recording_, &MeterRecording::opened, this, [this] {
        work_.waitForFinished();
        looked_at_ = 0;
        reading_ = {};
        events_.clear();
        emit changed();
    });
    timer_.start(look_ms);
}

TraceWatch::~TraceWatch() {
    work_.disconnect(this);
    work_.waitForFinished();
}

void TraceWatch::look() {
    const TraceRecord& record = recording_.record();
    if (work_.isRunning() || record.samples() == looked_at_)
        return;
    looked_at_ = record.samples();
    const double rate_hz = std::max(1.0, feed_.rate_hz());
    asked_to_s_ = record.last_s() + 1e-6;
    asked_from_s_ = asked_to_s_ - std::min(longest_look_s, most_samples / rate_hz);
    work_.setFuture(QtConcurrent::run(
        [samples = record.between(asked_from_s_, asked_to_s_)] { return read_trace(samples); }));
}

}  // namespace eh
