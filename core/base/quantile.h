// SPDX-License-Identifier: GPL-3.0-or-later
// The value that a share of all values lie below, without putting them all in order.
#pragma once

#include <algorithm>
#include <cassert>
#include <cmath>
#include <concepts>
#include <cstddef>
#include <limits>
#include <utility>
#include <vector>

namespace eh {

// The value at place share * n, counted from 0, of the n values in order; the last for a share of 1. Values
// that are no numbers are left out: an order with them among it is undefined. Not a number where there is
// none. Requires 0 <= share <= 1.
template <std::floating_point T>
[[nodiscard]] T quantile(std::vector<T> values, double share) {
    assert(share >= 0.0 && share <= 1.0 && "quantile: the share lies outside 0 to 1");
    values.erase(std::remove_if(values.begin(), values.end(), [](T value) { return std::isnan(value); }),
                 values.end());
    if (values.empty())
        return std::numeric_limits<T>::quiet_NaN();
    const auto place =
        std::min(values.size() - 1, static_cast<std::size_t>(share * static_cast<double>(values.size())));
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(place);
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

// The middle value; of an even number the upper of the two.
template <std::floating_point T>
[[nodiscard]] T median(std::vector<T> values) {
    return quantile(std::move(values), 0.5);
}

}  // namespace eh
