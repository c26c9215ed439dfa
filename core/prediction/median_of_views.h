// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <vector>

#include "core/base/quantile.h"
#include "core/machine/simulation/observation.h"

namespace eh {

// The median of what `get` takes out of the views that have an operating point; not a number where none has.
template <typename Get>
[[nodiscard]] double median_of(const std::vector<PoweredView>& views, const Get& get) {
    std::vector<double> values;
    values.reserve(views.size());
    for (const PoweredView& view : views) {
        if (view.valid)
            values.push_back(get(view));
    }
    return median(std::move(values));
}

}  // namespace eh
