// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/plane_map.h"

#include <Eigen/Dense>
#include <cmath>

namespace eh {
namespace {

constexpr std::size_t least_marks = 4;

// Moves the points' middle to 0 and their mean distance from it to the root of 2.
Eigen::Matrix3d scaling(std::span<const Eigen::Vector2d> points) {
    Eigen::Vector2d middle = Eigen::Vector2d::Zero();
    for (const auto& point : points)
        middle += point / static_cast<double>(points.size());
    double spread = 0.0;
    for (const auto& point : points)
        spread += (point - middle).norm() / static_cast<double>(points.size());
    const double scale = std::sqrt(2.0) / std::max(spread, 1e-12);
    Eigen::Matrix3d matrix;
    matrix << scale, 0.0, -scale * middle.x(), 0.0, scale, -scale * middle.y(), 0.0, 0.0, 1.0;
    return matrix;
}

Eigen::Vector2d mapped(const Eigen::Matrix3d& matrix, const Eigen::Vector2d& point) {
    return (matrix * point.homogeneous()).hnormalized();
}

}  // namespace

Result<PlaneMap> PlaneMap::from_marks(std::span<const MarkedPoint> marks) {
    if (marks.size() < least_marks)
        return refused("mark four points of the picture whose places on the board are known", "picture");
    std::vector<Eigen::Vector2d> seen;
    std::vector<Eigen::Vector2d> places;
    for (const MarkedPoint& mark : marks) {
        seen.emplace_back(mark.seen.x_px, mark.seen.y_px);
        places.emplace_back(mark.place.x_mm, mark.place.y_mm);
        if (!seen.back().allFinite() || !places.back().allFinite())
            return refused("a marked point has no place", "picture");
    }
    const Eigen::Matrix3d scale_seen = scaling(seen);
    const Eigen::Matrix3d scale_places = scaling(places);
    const auto rows = static_cast<Eigen::Index>(2 * marks.size());
    Eigen::MatrixXd equations = Eigen::MatrixXd::Zero(std::max<Eigen::Index>(rows, 9), 9);
    for (std::size_t i = 0; i < marks.size(); ++i) {
        const Eigen::RowVector3d from = mapped(scale_seen, seen[i]).homogeneous().transpose();
        const Eigen::Vector2d to = mapped(scale_places, places[i]);
        const auto row = static_cast<Eigen::Index>(2 * i);
        equations.block<1, 3>(row, 0) = from;
        equations.block<1, 3>(row, 6) = -to.x() * from;
        equations.block<1, 3>(row + 1, 3) = from;
        equations.block<1, 3>(row + 1, 6) = -to.y() * from;
    }
    const Eigen::JacobiSVD<Eigen::MatrixXd> svd(equations, Eigen::ComputeFullV);
    constexpr double hardly = 1e-6;
    // A second direction without a say: marks in one line, or on one another.
    if (svd.singularValues()[7] < hardly * svd.singularValues()[0])
        return refused(
            "three of the marked points lie in one line, or two on one another; mark points that "
            "span the board",
            "picture");
    const Eigen::VectorXd solution = svd.matrixV().col(8);
    Eigen::Matrix3d scaled;
    scaled << solution.segment<3>(0).transpose(), solution.segment<3>(3).transpose(),
        solution.segment<3>(6).transpose();
    PlaneMap map;
    map.to_place_ = scale_places.inverse() * scaled * scale_seen;
    const double determinant = map.to_place_.determinant();
    if (!map.to_place_.allFinite() ||
        std::abs(scaled.determinant()) < hardly * scaled.squaredNorm() * hardly || determinant == 0.0)
        return refused("three of the marked points lie in one line; mark points that span the board",
                       "picture");
    map.to_picture_ = map.to_place_.inverse();
    double squares = 0.0;
    for (std::size_t i = 0; i < marks.size(); ++i)
        squares += (mapped(map.to_place_, seen[i]) - places[i]).squaredNorm();
    map.misfit_mm_ = std::sqrt(squares / static_cast<double>(marks.size()));
    return map;
}

Point PlaneMap::place_of(const PicturePoint& seen) const {
    const Eigen::Vector2d place = mapped(to_place_, {seen.x_px, seen.y_px});
    return {place.x(), place.y()};
}

PicturePoint PlaneMap::seen_at(const Point& place) const {
    const Eigen::Vector2d seen = mapped(to_picture_, {place.x_mm, place.y_mm});
    return {seen.x(), seen.y()};
}

double PlaneMap::mm_a_pixel(const PicturePoint& seen) const {
    constexpr double half = 0.5;
    const Point left = place_of({seen.x_px - half, seen.y_px});
    const Point right = place_of({seen.x_px + half, seen.y_px});
    const Point above = place_of({seen.x_px, seen.y_px - half});
    const Point below = place_of({seen.x_px, seen.y_px + half});
    const double area = (right.x_mm - left.x_mm) * (below.y_mm - above.y_mm) -
                        (right.y_mm - left.y_mm) * (below.x_mm - above.x_mm);
    return std::sqrt(std::abs(area));
}

}  // namespace eh
