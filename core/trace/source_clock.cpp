// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/source_clock.h"

#include <algorithm>

namespace eh {
namespace {

// Crystals differ by 100 parts in a million at most (common practice): 1 ms in this time.
constexpr double lag_window_s = 10.0;
// A pause on this computer's clock of which the meter's clock shows less than half is one that it slept
// through.
constexpr double pause_s = 0.5;
constexpr double slept_share = 0.5;
constexpr double least_step_s = 1e-6;

}  // namespace

void SourceClock::reset(double not_before_s) {
    known_ = false;
    placed_s_ = std::max(placed_s_, not_before_s);
}

double SourceClock::offset_s() const {
    return std::min(least_lag_s_, earlier_lag_s_);
}

void SourceClock::place(std::span<MeterSample> samples, double arrived_s) {
    while (!samples.empty()) {
        // Where the meter's time goes back, its clock started again.
        const auto restart =
            std::adjacent_find(samples.begin(), samples.end(),
                               [](const MeterSample& a, const MeterSample& b) { return b.t_s < a.t_s; });
        const auto length = restart == samples.end()
                                ? samples.size()
                                : static_cast<std::size_t>(restart - samples.begin()) + 1;
        place_run(samples.first(length), arrived_s);
        samples = samples.subspan(length);
    }
}

void SourceClock::place_run(std::span<MeterSample> run, double arrived_s) {
    const double lag_s = arrived_s - run.back().t_s;
    const double pause_here_s = arrived_s - arrived_s_;
    const double pause_there_s = run.back().t_s - source_s_;
    const bool slept = pause_here_s > pause_s && pause_there_s < slept_share * pause_here_s;
    if (!known_ || run.front().t_s < source_s_ || slept) {
        least_lag_s_ = earlier_lag_s_ = lag_s;
        window_from_s_ = arrived_s;
        known_ = true;
    } else if (arrived_s - window_from_s_ > lag_window_s) {
        earlier_lag_s_ = least_lag_s_;
        least_lag_s_ = lag_s;
        window_from_s_ = arrived_s;
    } else {
        least_lag_s_ = std::min(least_lag_s_, lag_s);
    }
    source_s_ = run.back().t_s;
    arrived_s_ = arrived_s;
    for (MeterSample& sample : run) {
        placed_s_ = std::max(sample.t_s + offset_s(), placed_s_ + least_step_s);
        sample.t_s = placed_s_;
    }
}

}  // namespace eh
