// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/stream_words.h"

#include <bit>
#include <cmath>
#include <limits>
#include <optional>

namespace eh {

namespace {

// Layout of a compact sample, from the lowest bit.
constexpr int amps_bits = 22;
constexpr int volts_bits = 23;
constexpr int step_bits = 18;
static_assert(amps_bits + volts_bits + step_bits == 63);

constexpr double steps_per_unit = 1e5;  // of 10 uV and 10 uA
constexpr std::int64_t volts_zero = 2'000'000;
constexpr std::int64_t amps_zero = std::int64_t{1} << (amps_bits - 1);
constexpr std::int64_t step_us = 10;

// The other words: the highest bit, two bits of kind, and what they carry.
constexpr int carried_bits = 61;
constexpr StreamWord other = StreamWord{1} << 63;
constexpr StreamWord carried_mask = (StreamWord{1} << carried_bits) - 1;
constexpr StreamWord kind_time = 0;
constexpr StreamWord kind_gap = 1;
constexpr StreamWord kind_wide = 2;
constexpr int wide_bits = 30;  // of a float's 32, rounded

constexpr StreamWord mask(int bits) {
    return (StreamWord{1} << bits) - 1;
}

StreamWord other_word(StreamWord kind, StreamWord carried) {
    return other | kind << carried_bits | (carried & carried_mask);
}

StreamWord time_word(StreamWord kind, std::int64_t t_us) {
    return other_word(kind, static_cast<StreamWord>(t_us));
}

std::int64_t time_of(StreamWord word) {
    constexpr int above = 64 - carried_bits;
    return static_cast<std::int64_t>(word << above) >> above;  // keeps the sign
}

// The value in compact steps from `zero`, unless it is out of their range.
std::optional<StreamWord> compact(double value, std::int64_t zero, int bits) {
    const double steps = std::round(value * steps_per_unit) + static_cast<double>(zero);
    if (steps < 0.0 || steps > static_cast<double>(mask(bits)))
        return std::nullopt;
    return static_cast<StreamWord>(steps);
}

double from_compact(StreamWord steps, std::int64_t zero) {
    return static_cast<double>(static_cast<std::int64_t>(steps) - zero) / steps_per_unit;
}

// A float without its two lowest bits, rounded where that does not make it infinite.
StreamWord wide(double value) {
    const auto bits = std::bit_cast<std::uint32_t>(static_cast<float>(value));
    constexpr std::uint32_t largest = std::bit_cast<std::uint32_t>(std::numeric_limits<float>::max());
    const std::uint32_t rounded = (bits & 0x7FFF'FFFFU) + 2 <= largest ? bits + 2 : bits;
    return rounded >> (32 - wide_bits);
}

double from_wide(StreamWord bits) {
    return std::bit_cast<float>(static_cast<std::uint32_t>(bits & mask(wide_bits)) << (32 - wide_bits));
}

}  // namespace

bool fits_stream(const MeterSample& sample) {
    const auto finite = [](double value) { return std::abs(value) <= std::numeric_limits<float>::max(); };
    return std::abs(sample.t_s) <= latest_stream_s && finite(sample.volts) && finite(sample.amps);
}

std::int64_t stream_microseconds(double t_s) {
    return std::llround(t_s * 1e6);
}

double stream_seconds(std::int64_t t_us) {
    return static_cast<double>(t_us) / 1e6;
}

void StreamEncoder::sample(const MeterSample& sample, std::vector<StreamWord>& words) {
    const std::int64_t t_us = stream_microseconds(sample.t_s);
    const auto volts = compact(sample.volts, volts_zero, volts_bits);
    const auto amps = compact(sample.amps, amps_zero, amps_bits);
    // Cut, not rounded: the kept time is never later than the sample's, so that the next one is still ahead
    // of it.
    std::int64_t steps = (t_us - clock_us_) / step_us;
    const bool ahead = t_us > clock_us_ && steps > 0 && steps <= static_cast<std::int64_t>(mask(step_bits));
    if (!ahead || !volts || !amps) {
        clock(t_us, words);
        steps = 0;
    }
    clock_us_ += steps * step_us;
    if (volts && amps)
        words.push_back(static_cast<StreamWord>(steps) << (amps_bits + volts_bits) | *volts << amps_bits |
                        *amps);
    else
        words.push_back(other_word(kind_wide, wide(sample.volts) << wide_bits | wide(sample.amps)));
}

void StreamEncoder::gap(double t_s, std::vector<StreamWord>& words) {
    words.push_back(time_word(kind_gap, stream_microseconds(t_s)));
}

void StreamEncoder::clock(std::int64_t clock_us, std::vector<StreamWord>& words) {
    words.push_back(time_word(kind_time, clock_us));
    clock_us_ = clock_us;
}

StreamEvent StreamDecoder::take(StreamWord word) {
    if ((word & other) == 0) {
        clock_us_ += static_cast<std::int64_t>(word >> (amps_bits + volts_bits)) * step_us;
        return {StreamEvent::Kind::sample,
                {stream_seconds(clock_us_), from_compact(word >> amps_bits & mask(volts_bits), volts_zero),
                 from_compact(word & mask(amps_bits), amps_zero)}};
    }
    switch ((word & ~other) >> carried_bits) {
        case kind_time:
            clock_us_ = time_of(word);
            return {};
        case kind_gap:
            return {StreamEvent::Kind::gap, {stream_seconds(time_of(word)), 0.0, 0.0}};
        case kind_wide:
            return {StreamEvent::Kind::sample,
                    {stream_seconds(clock_us_), from_wide(word >> wide_bits), from_wide(word)}};
        default:
            return {};
    }
}

}  // namespace eh
