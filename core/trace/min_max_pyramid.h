// SPDX-License-Identifier: GPL-3.0-or-later
// Least and most of a long stream at many scales: what a plot needs to show hours without reading them.
//
// A node stands for `base` records of the stream, one of the next level for `factor` nodes. The nodes take
// about a three-hundredth of the stream's own room.
#pragma once

#include <cstddef>
#include <cstdint>
#include <functional>
#include <span>
#include <vector>

#include "core/trace/meter_summary.h"

namespace eh {

// What a stretch of the stream moved between.
struct TraceEnvelope {
    double from_s = 0.0;
    double to_s = 0.0;
    float least_volts = 0.0F;
    float most_volts = 0.0F;
    float least_amps = 0.0F;
    float most_amps = 0.0F;
    std::uint32_t samples = 0;  // 0: nothing was seen, the numbers mean nothing

    void take_in(const MeterSample& sample);
    void take_in(const TraceEnvelope& other);
    friend bool operator==(const TraceEnvelope&, const TraceEnvelope&) = default;
};

class MinMaxPyramid {
  public:
    static constexpr std::size_t base = 256;
    static constexpr std::size_t factor = 16;

    // Adds the next whole node of `base` records.
    void add(const TraceEnvelope& node);
    void clear() { levels_.clear(); }

    [[nodiscard]] std::span<const TraceEnvelope> finest() const { return level(0); }
    // Covers [from_s, to_s) in order with nodes at most widest_s long, the coarsest that are: calls `take`
    // for each, and `open` with the index of a finest node where even that is longer.
    void cover(double from_s, double to_s, double widest_s,
               const std::function<void(const TraceEnvelope&)>& take,
               const std::function<void(std::size_t)>& open) const;
    // Of the finest level: index of the first node that ends at t_s or later; their number if there is none.
    [[nodiscard]] std::size_t node_at(double t_s) const;

  private:
    struct Cover;
    [[nodiscard]] std::span<const TraceEnvelope> level(std::size_t index) const;

    std::vector<std::vector<TraceEnvelope>> levels_;
};

}  // namespace eh
