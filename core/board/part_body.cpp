// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/part_body.h"

#include <algorithm>
#include <cmath>

namespace eh {

double PartBody::distance_to(const Point& point) const {
    const double beside = std::max({least.x_mm - point.x_mm, point.x_mm - most.x_mm, 0.0});
    const double above = std::max({least.y_mm - point.y_mm, point.y_mm - most.y_mm, 0.0});
    return std::hypot(beside, above);
}

std::optional<PartBody> body_of(const BoardMap& map, int part) {
    constexpr double usual_half_mm = 0.4;
    std::optional<PartBody> body;
    for (const int index : map.part(part).pads) {
        const Pad& pad = map.pad(index);
        if (!pad.place)
            continue;
        const double half_width = pad.width_mm > 0.0 ? 0.5 * pad.width_mm : usual_half_mm;
        const double half_height = pad.height_mm > 0.0 ? 0.5 * pad.height_mm : usual_half_mm;
        const Point least{pad.place->x_mm - half_width, pad.place->y_mm - half_height};
        const Point most{pad.place->x_mm + half_width, pad.place->y_mm + half_height};
        if (!body)
            body = PartBody{least, most};
        body->least = {std::min(body->least.x_mm, least.x_mm), std::min(body->least.y_mm, least.y_mm)};
        body->most = {std::max(body->most.x_mm, most.x_mm), std::max(body->most.y_mm, most.y_mm)};
    }
    return body;
}

}  // namespace eh
