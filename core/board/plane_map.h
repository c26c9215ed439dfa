// SPDX-License-Identifier: GPL-3.0-or-later
// A plane seen from some direction: where a point of a picture lies on the board, and back.
//
// A projective map (homography) of four or more marked points, by the direct linear transform with points
// scaled to unit spread (Hartley and Zisserman, Multiple View Geometry, chapter 4, from memory).
#pragma once

#include <Eigen/Core>
#include <span>

#include "core/base/result.h"
#include "core/board/board_picture.h"

namespace eh {

class PlaneMap {
  public:
    // From marks: exactly with four, by least squares with more. Refused: fewer than four, or three of four
    // in one line, which leaves the map open.
    static Result<PlaneMap> from_marks(std::span<const MarkedPoint> marks);

    [[nodiscard]] Point place_of(const PicturePoint& seen) const;
    [[nodiscard]] PicturePoint seen_at(const Point& place) const;
    // Millimetres a pixel near a place of the picture: the root of the area that one pixel covers.
    [[nodiscard]] double mm_a_pixel(const PicturePoint& seen) const;
    // Root mean square distance of the marks from where the map puts them; 0 with four.
    [[nodiscard]] double misfit_mm() const { return misfit_mm_; }

  private:
    Eigen::Matrix3d to_place_ = Eigen::Matrix3d::Identity();
    Eigen::Matrix3d to_picture_ = Eigen::Matrix3d::Identity();
    double misfit_mm_ = 0.0;
};

}  // namespace eh
