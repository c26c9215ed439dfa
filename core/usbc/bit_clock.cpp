// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/bit_clock.h"

#include <algorithm>
#include <array>
#include <utility>

namespace eh::pd {
namespace {

constexpr double shortest_bit_s = 0.81 * nominal_bit_s;
constexpr double longest_bit_s = 1.25 * nominal_bit_s;
// In bits from the beginning of one. A middle lies at 0.5, the end at 1, the end behind a missed one at 1.5.
constexpr double middle_below = 0.75;
constexpr double end_below = 1.3;

// 0, 1, 0, 1: a whole bit and two halves.
constexpr std::size_t period_changes = 3;
constexpr double period_bits = 2.0;
constexpr std::array<double, period_changes> place_in_period{0.0, 1.0, 1.5};

struct ClockStart {
    std::size_t change = 0;  // the first that is read
    double place_s = 0.0;    // where the clock says that it lies
    double bit_s = nominal_bit_s;
    bool sure = false;
};

// How many changes from this one on keep the preamble's rhythm.
std::size_t rhythm_from(std::span<const double> changes, std::size_t from) {
    // Two changes of a period are each up to a sample late, at 1.2 million samples a second.
    constexpr double jitter_s = 0.9e-6;
    double least_s = period_bits * longest_bit_s + jitter_s;
    double most_s = period_bits * shortest_bit_s - jitter_s;
    std::size_t at = from;
    for (; at + period_changes < changes.size(); ++at) {
        const double period_s = changes[at + period_changes] - changes[at];
        const double least = std::min(least_s, period_s);
        const double most = std::max(most_s, period_s);
        const bool in_range = period_s > period_bits * shortest_bit_s - jitter_s &&
                              period_s < period_bits * longest_bit_s + jitter_s;
        if (!in_range || (at > from && most - least > 2.0 * jitter_s))
            break;
        least_s = least;
        most_s = most;
    }
    return at == from ? 0 : at + period_changes - from;
}

// Rate and place by a stretch of the preamble: a line through all its changes.
ClockStart clock_of(std::span<const double> changes, std::size_t from, std::size_t count) {
    // Twice the period has as many rises as falls, which the line's threshold shifts against each other.
    const std::size_t whole_periods = (count - 1) / (2 * period_changes) * 2;
    const std::size_t even = whole_periods * period_changes;
    ClockStart start;
    start.bit_s = (changes[from + even] - changes[from]) / (period_bits * static_cast<double>(whole_periods));
    // The longest of the three intervals is the 0, whose beginning is where the period begins.
    std::array<double, period_changes> lengths{};
    for (std::size_t i = 0; i < even; ++i)
        lengths[i % period_changes] += changes[from + i + 1] - changes[from + i];
    const auto first =
        static_cast<std::size_t>(std::max_element(lengths.begin(), lengths.end()) - lengths.begin());
    start.change = from + first;
    double sum_s = 0.0;
    for (std::size_t i = first; i < even; ++i) {
        const std::size_t n = i - first;
        const std::size_t periods = n / period_changes;
        const double place = period_bits * static_cast<double>(periods) + place_in_period[n % period_changes];
        sum_s += changes[from + i] - place * start.bit_s;
    }
    start.place_s = sum_s / static_cast<double>(even - first);
    start.sure = true;
    return start;
}

// The clock by the preamble; without one it starts at the first change, at the nominal rate.
ClockStart find_clock(std::span<const double> changes) {
    constexpr std::size_t fewest_changes = 24;  // of the preamble's 96
    constexpr std::size_t most_changes = 90;
    constexpr std::size_t looked_at = 64;
    const std::size_t last = std::min(changes.size(), looked_at);
    for (std::size_t from = 0; from + fewest_changes <= changes.size() && from < last; ++from) {
        const std::size_t rhythm = std::min(rhythm_from(changes, from), most_changes);
        if (rhythm < fewest_changes)
            continue;
        const ClockStart start = clock_of(changes, from, rhythm);
        if (start.bit_s > shortest_bit_s && start.bit_s < longest_bit_s)
            return start;
    }
    return {0, changes.empty() ? 0.0 : changes.front(), nominal_bit_s, false};
}

class Clock {
  public:
    Clock(const ClockStart& start, std::size_t changes)
        : bit_start_s_(start.place_s), bit_s_(start.bit_s), sure_(start.sure) {
        found_.bits.reserve(changes);
    }

    void change(double t_s) {
        const double into_s = t_s - bit_start_s_;
        if (into_s < middle_below * bit_s_) {
            if (half_)
                slip(1, t_s);
            else
                half_ = true;
        } else if (!half_) {
            end_bit(0, into_s - bit_s_);
        } else if (into_s < end_below * bit_s_) {
            end_bit(1, into_s - bit_s_);
        } else {
            slip(0, t_s);  // what was taken for a middle was a beginning
        }
    }
    RecoveredBits found() { return std::move(found_); }

  private:
    void end_bit(std::uint8_t bit, double error_s) {
        // A clock that knows rate and place hardly follows a single change; one that does not has to, at
        // first.
        constexpr std::size_t settled_bits = 28;
        const bool seeking = !sure_ && found_.bits.size() < settled_bits;
        const double place_gain = seeking ? 0.6 : 0.2;
        const double rate_gain = seeking ? 0.15 : 0.01;
        bit_start_s_ += bit_s_ + place_gain * error_s;
        bit_s_ = std::clamp(bit_s_ + rate_gain * error_s, shortest_bit_s, longest_bit_s);
        half_ = false;
        found_.bits.push_back(bit);
    }
    void slip(std::uint8_t bit, double t_s) {
        bit_start_s_ = t_s;
        half_ = false;
        found_.bits.push_back(bit);
        found_.last_slip = found_.bits.size();
    }

    RecoveredBits found_;
    double bit_start_s_;
    double bit_s_;
    bool sure_;
    bool half_ = false;  // the middle of a 1 was seen
};

}  // namespace

RecoveredBits recover_bits(std::span<const double> changes_s) {
    const ClockStart start = find_clock(changes_s);
    Clock clock(start, changes_s.size());
    if (start.change + 1 < changes_s.size()) {
        for (const double t_s : changes_s.subspan(start.change + 1))
            clock.change(t_s);
    }
    return clock.found();
}

}  // namespace eh::pd
