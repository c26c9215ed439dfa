// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/meter_summary.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <vector>

#include "core/base/quantile.h"

namespace eh {
namespace {

struct Moments {
    double sum = 0.0;
    double sum_of_squares = 0.0;
    std::size_t count = 0;

    void add(double x) {
        sum += x;
        sum_of_squares += x * x;
        ++count;
    }
    [[nodiscard]] double mean() const { return sum / static_cast<double>(count); }
    [[nodiscard]] double deviation() const {
        if (count < 2)
            return 0.0;
        const double n = static_cast<double>(count);
        return std::sqrt(std::max(0.0, (sum_of_squares - sum * sum / n) / (n - 1.0)));
    }
};

// Moments at which the meter lights up or its volts rise through the middle of their swing. A rise counts
// once until the volts have fallen again: a plug that goes in and climbs from 5 V to 20 V has risen once.
std::vector<double> rises(std::span<const MeterSample> lit, double from_s, const SummaryOptions& options) {
    const auto [low, high] = std::minmax_element(
        lit.begin(), lit.end(), [](const MeterSample& a, const MeterSample& b) { return a.volts < b.volts; });
    const bool swings = high->volts - low->volts > options.swing_volts;
    const double middle = 0.5 * (low->volts + high->volts);
    std::vector<double> moments;
    bool fallen = true;
    if (lit.front().t_s - from_s > options.gap_s) {
        moments.push_back(lit.front().t_s);
        fallen = false;
    }
    for (std::size_t i = 1; i < lit.size(); ++i) {
        const bool after_gap = lit[i].t_s - lit[i - 1].t_s > options.gap_s;
        const bool rises_through = swings && lit[i - 1].volts < middle && lit[i].volts >= middle;
        const bool falls_through = swings && lit[i - 1].volts >= middle && lit[i].volts < middle;
        if (after_gap || (rises_through && fallen))
            moments.push_back(lit[i].t_s);
        else if (rises_through)
            moments.back() = lit[i].t_s;
        fallen = !after_gap && !rises_through && (fallen || falls_through);
    }
    return moments;
}

// The stretch may cut its first and last cycle; the median does not mind. Requires two moments.
double median_interval(const std::vector<double>& moments) {
    std::vector<double> intervals(moments.size() - 1);
    for (std::size_t i = 0; i < intervals.size(); ++i)
        intervals[i] = moments[i + 1] - moments[i];
    return median(std::move(intervals));
}

}  // namespace

double dark_gap_s(std::span<const MeterSample> samples) {
    constexpr double least_s = 0.35;
    constexpr double longest_s = 3.5;
    constexpr double lines = 3.0;
    constexpr std::size_t looked_at = 1000;  // of a long stream, spread over it
    if (samples.size() < 3)
        return least_s;
    std::vector<double> steps;
    const std::size_t stride = std::max<std::size_t>(1, samples.size() / looked_at);
    for (std::size_t i = 1; i < samples.size(); i += stride)
        steps.push_back(samples[i].t_s - samples[i - 1].t_s);
    // Of a stream that comes and goes most steps may be dark times; its short steps are the meter's own.
    constexpr double own_share = 0.1;
    return std::clamp(lines * quantile(std::move(steps), own_share), least_s, longest_s);
}

MeterSummary summarise(std::span<const MeterSample> samples, double from_s, double to_s,
                       const SummaryOptions& asked) {
    assert(from_s < to_s && "summarise: an empty stretch");
    const auto by_time = [](const MeterSample& sample, double t) { return sample.t_s < t; };
    const auto first = std::lower_bound(samples.begin(), samples.end(), from_s, by_time);
    const auto last = std::lower_bound(first, samples.end(), to_s, by_time);
    MeterSummary summary;
    if (first == last)
        return summary;
    const std::span<const MeterSample> lit(first, last);
    SummaryOptions options = asked;
    if (options.gap_s <= 0.0)
        options.gap_s = dark_gap_s(lit);
    Moments volts;
    Moments amps;
    for (const MeterSample& sample : lit) {
        volts.add(sample.volts);
        amps.add(sample.amps);
        summary.peak_amps = std::max(summary.peak_amps, sample.amps);
    }
    summary.volts = volts.mean();
    summary.volts_spread = volts.deviation();
    summary.amps = amps.mean();
    summary.amps_spread = amps.deviation();
    const auto moments = rises(lit, from_s, options);
    if (static_cast<int>(moments.size()) >= options.least_rises) {
        summary.pattern = MeterPattern::cycling;
        summary.period_s = median_interval(moments);
    } else if (to_s - lit.back().t_s > options.flash_dark_share * (to_s - from_s)) {
        summary.pattern = MeterPattern::flash;
    } else {
        summary.pattern = MeterPattern::steady;
    }
    return summary;
}

namespace {
constexpr std::array pattern_names{"dark", "steady", "cycling", "flash"};
}

std::string to_text(MeterPattern pattern) {
    return pattern_names[static_cast<std::size_t>(pattern)];
}

std::optional<MeterPattern> meter_pattern_from(const std::string& text) {
    for (std::size_t i = 0; i < pattern_names.size(); ++i) {
        if (text == pattern_names[i])
            return static_cast<MeterPattern>(i);
    }
    return std::nullopt;
}

}  // namespace eh
