// SPDX-License-Identifier: GPL-3.0-or-later
// What a recording keeps of a meter's stream: one word of eight bytes for a sample.
//
// A word whose highest bit is clear is a sample: time since the one before in steps of 10 us (18 bits), volts
// in steps of 10 uV from -20 V (23 bits), amps in steps of 10 uA from -20.97152 A (22 bits). So what a meter
// with up to five decimals says comes back as it was said. What does not fit there takes two words: a time of
// its own (after a pause, or less than 10 us after the one before), or a value of its own (out of range; to
// 3e-7 of itself). docs/formats.md has the layout.
#pragma once

#include <cstdint>
#include <vector>

#include "core/trace/meter_summary.h"

namespace eh {

using StreamWord = std::uint64_t;

// Times of a stream are kept as whole microseconds; beyond these there is no word.
inline constexpr double latest_stream_s = 1e12;

// Whether a sample can be written: its time at most latest_stream_s from zero, its values finite as floats.
[[nodiscard]] bool fits_stream(const MeterSample& sample);
[[nodiscard]] std::int64_t stream_microseconds(double t_s);
[[nodiscard]] double stream_seconds(std::int64_t t_us);

// Writes samples as words. Knows only the time that the words before it add up to.
class StreamEncoder {
  public:
    // Appends the one or two words of a sample that fits. Its time may lie before the one of the sample
    // before.
    void sample(const MeterSample& sample, std::vector<StreamWord>& words);
    // Appends the word that says: the source went away at t_s.
    void gap(double t_s, std::vector<StreamWord>& words);
    // Appends the word that sets the clock, for words that were torn from those before them.
    void clock(std::int64_t clock_us, std::vector<StreamWord>& words);

    // The time the next word counts from; a reader that ended there hands it over.
    void go_on_from(std::int64_t clock_us) { clock_us_ = clock_us; }

  private:
    std::int64_t clock_us_ = 0;
};

// What one word amounts to.
struct StreamEvent {
    enum class Kind { time, sample, gap };
    Kind kind = Kind::time;
    MeterSample sample;  // of a gap only its time
};

// Reads words in their order, from the beginning or from any word whose clock is known.
class StreamDecoder {
  public:
    explicit StreamDecoder(std::int64_t clock_us = 0) : clock_us_(clock_us) {}
    // A word of a kind that this version does not know counts as Kind::time and moves nothing.
    [[nodiscard]] StreamEvent take(StreamWord word);
    [[nodiscard]] std::int64_t clock() const { return clock_us_; }

  private:
    std::int64_t clock_us_;
};

}  // namespace eh
