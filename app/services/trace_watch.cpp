// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/trace_watch.h"

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
    connect(&recording_, &MeterRecording::opened, this, [this] {
        work_.forget();
        looked_at_ = 0;
        reading_ = {};
        events_.clear();
        emit changed();
    });
    timer_.start(look_ms);
}

void TraceWatch::look() {
    const TraceRecord& record = recording_.record();
    if (work_.running() || record.samples() == looked_at_)
        return;
    looked_at_ = record.samples();
    const double rate_hz = std::max(1.0, feed_.rate_hz());
    const double to_s = record.last_s() + 1e-6;
    const double from_s = to_s - std::min(longest_look_s, most_samples / rate_hz);
    work_.start([samples = record.between(from_s, to_s)](const TaskControl&) { return read_trace(samples); },
                [this, from_s, to_s](TraceReading found) {
                    reading_ = std::move(found);
                    events_ = outline_of(reading_.events);
                    from_s_ = from_s;
                    to_s_ = to_s;
                    emit changed();
                });
}

}  // namespace eh
