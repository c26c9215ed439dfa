// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/prediction/sample_spread.h"

#include <cassert>
#include <cmath>
#include <numbers>

namespace eh {

namespace {

double fraction_of_turns(std::size_t i, double turns) {
    const double turn = (static_cast<double>(i) + 0.5) * turns;
    return turn - std::floor(turn);
}

}  // namespace

double evenly(std::size_t i) {
    return fraction_of_turns(i, std::numbers::phi);
}

double evenly_beside(std::size_t i) {
    return fraction_of_turns(i, std::numbers::sqrt2);
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
