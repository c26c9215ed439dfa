// SPDX-License-Identifier: GPL-3.0-or-later
// How long repairs hold: the share that has not come back (Kaplan and Meier), cases still out there counted
// as long as they were seen.
#include <fmt/core.h>

#include "core/shop/survival.h"

int main() {
    const auto curve = eh::kaplan_meier({{6, true},
                                         {6, true},
                                         {6, true},
                                         {6, false},
                                         {7, true},
                                         {9, false},
                                         {10, true},
                                         {10, false},
                                         {11, false},
                                         {13, true},
                                         {16, true}});
    if (!curve) {
        fmt::print("{}\n", curve.error().text());
        return 1;
    }
    for (const eh::SurvivalStep& step : *curve)
        fmt::print("day {:>2.0f}: {:.3f} hold, {:.3f} to {:.3f}\n", step.days, step.holds, step.low,
                   step.high);
}
