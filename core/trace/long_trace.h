// SPDX-License-Identifier: GPL-3.0-or-later
// A recording of any length read as states and events, in memory that does not grow with it.
#pragma once

#include <array>
#include <optional>
#include <span>
#include <vector>

#include "core/trace/trace_events.h"

namespace eh {

// Reads piece by piece and joins what a cut went through. A piece is cut where the meter lights up, so that
// nothing is lost there; a contract longer than half a piece is cut within, and its spans are joined again.
class LongTrace {
  public:
    // A piece holds so many samples; a few hundred seconds of the meter at least, for slow events are sought
    // within one piece.
    explicit LongTrace(std::size_t piece_samples = 1'000'000, const TraceOptions& options = {});

    // More samples, in the order of time and finite.
    void append(std::span<const MeterSample> samples);
    // What there was, once all samples have been given; the object is empty afterwards.
    TraceReading finish();
    [[nodiscard]] std::uint64_t samples() const { return count_; }

  private:
    void read_piece();
    void join(const TraceReading& piece, double until_s);

    std::size_t piece_samples_;
    TraceOptions options_;
    std::vector<MeterSample> open_;  // not yet told
    bool cut_while_lit_ = false;     // the open samples go on with the last span
    TraceReading told_;
    std::array<std::optional<std::size_t>, trace_event_kind_count> last_of_kind_;  // among told_.events
    double source_span_s_ = 0.0;
    std::uint64_t count_ = 0;
};

}  // namespace eh
