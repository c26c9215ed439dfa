// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/sample_spread.h"

#include <cassert>
#include <cmath>
#include <numbers>

namespace eh {

double evenly(std::size_t i) {
    const double turn = (static_cast<double>(i) + 0.5) * std::numbers::phi;
    return turn - std::floor(turn);
}

SeverityDraw severity_draw(double even, const std::optional<SeverityRange>& range) {
    if (!range)
        return {even, 1.0};
    assert(0.0 <= range->from && range->from < range->to && range->to <= 1.0);
    constexpr double anywhere = 0.25;
    const double width = range->to - range->from;
    const double inside = anywhere + (1.0 - anywhere) / width;
    // The inverse of the cumulated density, which has a kink at either end of the range.
    const double below = anywhere * range->from;
    const double within = inside * width;
    if (even < below)
        return {even / anywhere, 1.0 / anywhere};
    if (even < below + within)
        return {range->from + (even - below) / inside, 1.0 / inside};
    return {range->to + (even - below - within) / anywhere, 1.0 / anywhere};
}

}  // namespace eh
