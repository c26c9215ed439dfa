// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/thermal/rhythm.h"

#include <algorithm>

namespace eh {

Rhythm Rhythm::of_period(double period_s, double first_s, double last_s) {
    std::vector<double> starts;
    if (period_s > 0.0) {
        const auto count = static_cast<int>((last_s - first_s) / period_s) + 2;
        for (int i = 0; i < count; ++i)
            starts.push_back(first_s + i * period_s);
    }
    return Rhythm(std::move(starts));
}

Rhythm Rhythm::of_retries(const TraceReading& trace) {
    const TraceEvent* longest = nullptr;
    for (const TraceEvent& event : trace.events) {
        if (event.kind == TraceEventKind::retry_cycle &&
            (longest == nullptr || event.until_s - event.t_s > longest->until_s - longest->t_s))
            longest = &event;
    }
    std::vector<double> starts;
    for (const TraceEvent& event : trace.events) {
        if (longest != nullptr && event.kind == TraceEventKind::attach && event.t_s >= longest->t_s &&
            event.t_s <= longest->until_s)
            starts.push_back(event.t_s);
    }
    return Rhythm(std::move(starts));
}

Rhythm Rhythm::of_frames(std::span<const ThermalFrame> frames) {
    std::vector<double> starts;
    bool was_off = false;
    for (const ThermalFrame& frame : frames) {
        if (!frame.t_s || !frame.powered)
            continue;
        if (*frame.powered && was_off)
            starts.push_back(*frame.t_s);
        was_off = !*frame.powered;
    }
    return Rhythm(std::move(starts));
}

double Rhythm::period_s() const {
    return (starts_s_.back() - starts_s_.front()) / static_cast<double>(starts_s_.size() - 1);
}

std::optional<double> Rhythm::cycles_at(double t_s) const {
    const auto next = std::upper_bound(starts_s_.begin(), starts_s_.end(), t_s);
    if (next == starts_s_.begin() || next == starts_s_.end())
        return std::nullopt;
    const auto before = std::prev(next);
    return static_cast<double>(before - starts_s_.begin()) + (t_s - *before) / (*next - *before);
}

Result<LockInImage> lock_in_over(std::span<const ThermalFrame> frames, const Rhythm& rhythm) {
    if (frames.empty())
        return refused("no frames were given", "frames");
    LockIn sums(frames.front().width, frames.front().height);
    for (const ThermalFrame& frame : frames)
        if (const auto cycles = rhythm.cycles_at(*frame.t_s))
            sums.add(frame, *cycles, *frame.t_s);
    return sums.image();
}

}  // namespace eh
