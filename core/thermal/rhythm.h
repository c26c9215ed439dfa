// SPDX-License-Identifier: GPL-3.0-or-later
// When a load goes on and off, as a count of cycles: what a lock-in is in step with.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/thermal/lock_in.h"
#include "core/trace/trace_events.h"

namespace eh {

class Rhythm {
  public:
    // Of moments at which a cycle begins, in order. Cycles may differ in length.
    explicit Rhythm(std::vector<double> starts_s) : starts_s_(std::move(starts_s)) {}
    // The supply goes on every period_s from first_s to last_s.
    static Rhythm of_period(double period_s, double first_s, double last_s);
    // The charger's retries as the inline meter saw them; empty when there are none. Longest run of them.
    static Rhythm of_retries(const TraceReading& trace);
    // From what the frames say about the supply; frames without a time or a word count for nothing.
    static Rhythm of_frames(std::span<const ThermalFrame> frames);

    [[nodiscard]] bool empty() const { return starts_s_.size() < 2; }
    [[nodiscard]] double first_s() const { return starts_s_.front(); }
    [[nodiscard]] double last_s() const { return starts_s_.back(); }
    // Mean length of a cycle. Requires !empty().
    [[nodiscard]] double period_s() const;
    // Cycles since the first start; nullopt before it, and after the last.
    [[nodiscard]] std::optional<double> cycles_at(double t_s) const;

  private:
    std::vector<double> starts_s_;
};

// The lock-in of frames that fall into the rhythm; refused as LockIn::image(). Requires frames with times.
Result<LockInImage> lock_in_over(std::span<const ThermalFrame> frames, const Rhythm& rhythm);

}  // namespace eh
