// SPDX-License-Identifier: GPL-3.0-or-later
// Where a series changes its level: piecewise constant segmentation by merging neighbours.
//
// Segments are merged, cheapest first, as long as the merge costs less than a penalty: the cost of merging
// two is the growth of the squared error over the variance of the noise, n1 n2 / (n1 + n2) (m1 - m2)^2 / s^2,
// which is the likelihood-ratio statistic of a change between them (bottom-up segmentation; Keogh, Chu, Hart
// and Pazzani, ICDM 2001; the statistic as with Hinkley, Biometrika 57, 1970; both from memory). The penalty
// of 3 ln n is that of a change by the modified Schwarz criterion (Zhang and Siegmund, Biometrics 63, 2007,
// from memory).
#pragma once

#include <cstddef>
#include <span>
#include <vector>

namespace eh {

// A stretch of a series with one level.
struct LevelSegment {
    std::size_t first = 0;
    std::size_t count = 0;
    double mean = 0.0;
    friend bool operator==(const LevelSegment&, const LevelSegment&) = default;
};

struct ChangePointOptions {
    double noise = 0.0;        // one sigma; 0: estimated from the differences of neighbours
    double least_noise = 0.0;  // the estimate is at least this: a meter's digit has no less
    double penalty = 0.0;      // cost from which on a change is believed; 0: 3 ln n
    std::size_t block = 1;     // so many samples are one to begin with where they lie within the noise
};

// Standard deviation of white noise from the median of absolute differences of neighbours: level changes,
// which are rare, do not disturb it. 0 below three values. Requires finite values.
double noise_of(std::span<const double> values);

// The segments, which cover the whole series in order; none for an empty one. Requires finite values.
std::vector<LevelSegment> level_segments(std::span<const double> values,
                                         const ChangePointOptions& options = {});

}  // namespace eh
