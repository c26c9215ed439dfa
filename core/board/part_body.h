// SPDX-License-Identifier: GPL-3.0-or-later
// Where the body of a part is: the box that its pads span.
#pragma once

#include <optional>

#include "core/board/board_map.h"

namespace eh {

struct PartBody {
    Point least;
    Point most;

    [[nodiscard]] Point centre() const {
        return {0.5 * (least.x_mm + most.x_mm), 0.5 * (least.y_mm + most.y_mm)};
    }
    [[nodiscard]] double area_mm2() const { return (most.x_mm - least.x_mm) * (most.y_mm - least.y_mm); }
    // 0 within.
    [[nodiscard]] double distance_to(const Point& point) const;
};

// nullopt where no pad has a place. Pads of unknown size count as 0.8 mm wide.
std::optional<PartBody> body_of(const BoardMap& map, int part);

}  // namespace eh
