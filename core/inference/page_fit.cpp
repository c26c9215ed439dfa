// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/page_fit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace eh {
namespace {

double bell(double deviation, double width) {
    const double z = deviation / width;
    return std::exp(-0.5 * z * z) / (width * std::sqrt(2.0 * std::numbers::pi));
}

bool same_watts(double seen, double real) {
    constexpr double a_quarter = 1.25;
    if (seen <= 0.0 || real <= 0.0)
        return seen <= 0.0 && real <= 0.0;
    return seen < a_quarter * real && real < a_quarter * seen;
}

double cycles_of(double health_percent) {
    constexpr double cycles_a_percent = 25.0;
    constexpr double hardly_used = 50.0;
    return hardly_used + cycles_a_percent * std::max(0.0, 100.0 - health_percent);
}

}  // namespace

double page_density(const SettingsPage& page, const PoweredView& sample) {
    const bool shows_page = sample.adapter_watts >= 0.0F;
    const bool knows_pack = sample.pack_health_width > 0.0F;
    if (!shows_page)
        return page_background(page);
    // Of a machine without a pack nobody knows what its page gives for one.
    double density = knows_pack ? 1.0 : page_background({{}, page.health_percent, page.cycles});
    if (page.adapter_watts) {
        constexpr double given_as_they_are = 0.8;
        density *= same_watts(*page.adapter_watts, double{sample.adapter_watts})
                       ? given_as_they_are
                       : (1.0 - given_as_they_are) / (adapter_watt_kinds - 1);
    }
    if (page.health_percent && knows_pack)
        density *= bell(*page.health_percent - double{sample.pack_health}, double{sample.pack_health_width});
    if (page.cycles && !page.health_percent && knows_pack) {
        const double roughly_ln = std::log(2.5);
        const double by_health = cycles_of(double{sample.pack_health});
        density *= bell(std::log((*page.cycles + 20.0) / (by_health + 20.0)), roughly_ln);
    }
    return density;
}

}  // namespace eh
