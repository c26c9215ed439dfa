// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/thermal/smoothing.h"

#include <algorithm>

namespace eh {
namespace {

// Means of three along one direction: neighbours are `stride` apart, lines start where `start` says.
void mean_of_three(const std::vector<float>& from, std::vector<float>& to, int lines, int line_stride,
                   int count, int stride) {
    for (int line = 0; line < lines; ++line) {
        const auto start = static_cast<std::size_t>(line * line_stride);
        const auto at = [&](int i) { return from[start + static_cast<std::size_t>(i * stride)]; };
        for (int i = 0; i < count; ++i) {
            const int first = std::max(0, i - 1);
            const int last = std::min(count - 1, i + 1);
            float sum = 0.0F;
            for (int k = first; k <= last; ++k)
                sum += at(k);
            to[start + static_cast<std::size_t>(i * stride)] = sum / static_cast<float>(last - first + 1);
        }
    }
}

}  // namespace

std::vector<float> smoothed(const std::vector<float>& values, int width, int height, int passes) {
    std::vector<float> now = values;
    std::vector<float> next(values.size());
    for (int pass = 0; pass < passes; ++pass) {
        mean_of_three(now, next, height, width, width, 1);
        mean_of_three(next, now, width, 1, height, width);
    }
    return now;
}

}  // namespace eh
