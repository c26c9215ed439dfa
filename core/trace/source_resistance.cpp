// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/source_resistance.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/base/distributions.h"
#include "core/trace/time_blocks.h"

namespace eh {
namespace {

struct Point {
    double volts = 0.0;
    double amps = 0.0;
};

std::vector<Point> blocks_of(std::span<const MeterSample> samples, double block_s) {
    std::vector<Point> points;
    std::size_t first = 0;
    while (first < samples.size()) {
        Point sum;
        const std::size_t next = end_of_block(samples, first, block_s);
        for (const MeterSample& sample : samples.subspan(first, next - first)) {
            sum.volts += sample.volts;
            sum.amps += sample.amps;
        }
        const auto count = static_cast<double>(next - first);
        points.push_back({sum.volts / count, sum.amps / count});
        first = next;
    }
    return points;
}

}  // namespace

std::optional<ResistanceEstimate> source_resistance(std::span<const MeterSample> samples, double block_s,
                                                    double least_amps_span) {
    constexpr std::size_t least_blocks = 6;
    constexpr double confidence = 0.95;
    const std::vector<Point> points = blocks_of(samples, block_s);
    if (points.size() < least_blocks)
        return std::nullopt;
    const auto n = static_cast<double>(points.size());
    Point mean;
    double least = points.front().amps;
    double most = least;
    for (const Point& point : points) {
        mean.volts += point.volts / n;
        mean.amps += point.amps / n;
        least = std::min(least, point.amps);
        most = std::max(most, point.amps);
    }
    if (most - least < least_amps_span)
        return std::nullopt;
    double square = 0.0;
    double product = 0.0;
    for (const Point& point : points) {
        square += (point.amps - mean.amps) * (point.amps - mean.amps);
        product += (point.amps - mean.amps) * (point.volts - mean.volts);
    }
    const double slope = product / square;
    double error = 0.0;
    for (const Point& point : points) {
        const double off = point.volts - mean.volts - slope * (point.amps - mean.amps);
        error += off * off;
    }
    const double freedom = n - 2.0;
    const double sigma = std::sqrt(error / freedom / square);
    const double t = student_quantile(0.5 + 0.5 * confidence, freedom);
    ResistanceEstimate estimate;
    estimate.ohms = -slope;
    estimate.low_ohms = -slope - t * sigma;
    estimate.high_ohms = -slope + t * sigma;
    estimate.volts_at_no_load = mean.volts - slope * mean.amps;
    estimate.amps_span = most - least;
    estimate.blocks = static_cast<int>(points.size());
    return estimate;
}

std::optional<ContactResistance> contact_resistance(double meter_volts, double board_volts, double amps,
                                                    double meter_sigma_volts, double board_sigma_volts) {
    constexpr double least_amps = 0.1;
    if (!(amps >= least_amps))
        return std::nullopt;
    ContactResistance contact;
    contact.ohms = (meter_volts - board_volts) / amps;
    contact.sigma_ohms = std::hypot(meter_sigma_volts, board_sigma_volts) / amps;
    contact.heat_watts = std::max(0.0, contact.ohms) * amps * amps;
    return contact;
}

}  // namespace eh
