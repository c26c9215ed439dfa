// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/copper_sheet.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/register/point.hpp>
#include <cassert>
#include <cmath>
#include <limits>
#include <set>

BOOST_GEOMETRY_REGISTER_POINT_2D(eh::Point, double, cs::cartesian, x_mm, y_mm)

namespace eh {
namespace {

namespace geometry = boost::geometry;

// Counter-clockwise, and not closed by its first corner.
using Polygon = geometry::model::polygon<Point, false, false>;

// The outline grown by a margin.
class GrownOutline {
  public:
    GrownOutline(const std::vector<Point>& outline, double margin_mm)
        : edge_(outline.begin(), outline.end()), margin_mm_(margin_mm) {
        area_.outer().assign(outline.begin(), outline.end());
        edge_.push_back(outline.front());
    }
    [[nodiscard]] bool holds(const Point& point) const {
        return geometry::within(point, area_) || geometry::distance(point, edge_) <= margin_mm_;
    }

  private:
    Polygon area_;
    geometry::model::linestring<Point> edge_;
    double margin_mm_;
};

}  // namespace

std::vector<Point> convex_hull(const std::vector<Point>& points) {
    std::set<std::pair<double, double>> places;
    for (const Point& point : points)
        places.emplace(point.x_mm, point.y_mm);
    std::vector<Point> different;
    different.reserve(places.size());
    for (const auto& [x_mm, y_mm] : places)
        different.push_back({x_mm, y_mm});
    if (different.size() < 3)
        return different;
    Polygon hull;
    geometry::convex_hull(geometry::model::multi_point<Point>(different.begin(), different.end()), hull);
    return {hull.outer().begin(), hull.outer().end()};
}

CopperSheet::CopperSheet(const std::vector<Point>& outline, double margin_mm, double cell_mm,
                         int most_cells) {
    build(
        outline, margin_mm, cell_mm, [](const Point&) { return 1.0; }, most_cells);
}

CopperSheet::CopperSheet(const std::vector<Point>& outline, double margin_mm, double cell_mm,
                         const std::function<double(const Point&)>& thickness, int most_cells) {
    build(outline, margin_mm, cell_mm, thickness, most_cells);
}

void CopperSheet::build(const std::vector<Point>& outline, double margin_mm, double cell_mm,
                        const std::function<double(const Point&)>& thickness, int most_cells) {
    assert(!outline.empty() && "CopperSheet: no outline");
    lay_grid(outline, margin_mm, cell_mm, most_cells);
    const auto squares = static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_);
    std::vector<double> conductance(squares, 0.0);
    const GrownOutline grown(outline, margin_mm);
    for (std::size_t s = 0; s < squares; ++s) {
        const Point middle = middle_of(s);
        if (grown.holds(middle))
            conductance[s] = std::max(0.0, thickness(middle));
    }
    keep_largest_piece(conductance);
    assert(cells() > 0 && "CopperSheet: nothing left");
    join_cells(conductance);
}

void CopperSheet::lay_grid(const std::vector<Point>& outline, double margin_mm, double cell_mm,
                           int most_cells) {
    Point least = outline.front();
    Point most = least;
    for (const Point& corner : outline) {
        least = {std::min(least.x_mm, corner.x_mm), std::min(least.y_mm, corner.y_mm)};
        most = {std::max(most.x_mm, corner.x_mm), std::max(most.y_mm, corner.y_mm)};
    }
    const double wide_mm = most.x_mm - least.x_mm + 2.0 * margin_mm;
    const double high_mm = most.y_mm - least.y_mm + 2.0 * margin_mm;
    cell_mm_ = std::max(cell_mm, std::sqrt(wide_mm * high_mm / most_cells));
    // Cells fill the width exactly, so that a rectangle is one.
    columns_ = std::max(1, static_cast<int>(std::lround(wide_mm / cell_mm_)));
    rows_ = std::max(1, static_cast<int>(std::lround(high_mm / cell_mm_)));
    origin_ = {least.x_mm - margin_mm, least.y_mm - margin_mm};
}

Point CopperSheet::middle_of(std::size_t square) const {
    const std::size_t column = square % static_cast<std::size_t>(columns_);
    const std::size_t row = square / static_cast<std::size_t>(columns_);
    return {origin_.x_mm + (static_cast<double>(column) + 0.5) * cell_mm_,
            origin_.y_mm + (static_cast<double>(row) + 0.5) * cell_mm_};
}

template <typename Visit>
void CopperSheet::visit_neighbours(std::size_t square, const Visit& visit) const {
    const auto column = static_cast<int>(square % static_cast<std::size_t>(columns_));
    const auto row = static_cast<int>(square / static_cast<std::size_t>(columns_));
    for (const auto& [dc, dr] : std::array<std::pair<int, int>, 4>{{{1, 0}, {-1, 0}, {0, 1}, {0, -1}}}) {
        if (column + dc >= 0 && column + dc < columns_ && row + dr >= 0 && row + dr < rows_)
            visit(static_cast<std::size_t>(row + dr) * static_cast<std::size_t>(columns_) +
                  static_cast<std::size_t>(column + dc));
    }
}

// By walking from square to square.
void CopperSheet::keep_largest_piece(const std::vector<double>& conductance) {
    std::vector<int> piece(conductance.size(), -1);
    int largest = -1;
    std::size_t largest_size = 0;
    for (std::size_t s = 0; s < conductance.size(); ++s) {
        if (conductance[s] <= 0.0 || piece[s] >= 0)
            continue;
        std::vector<std::size_t> found{s};
        piece[s] = static_cast<int>(s);
        for (std::size_t at = 0; at < found.size(); ++at)
            visit_neighbours(found[at], [&](std::size_t next) {
                if (conductance[next] > 0.0 && piece[next] < 0) {
                    piece[next] = static_cast<int>(s);
                    found.push_back(next);
                }
            });
        if (found.size() > largest_size) {
            largest_size = found.size();
            largest = static_cast<int>(s);
        }
    }
    cell_of_square_.assign(conductance.size(), -1);
    for (std::size_t s = 0; s < conductance.size(); ++s) {
        if (largest >= 0 && piece[s] == largest) {
            cell_of_square_[s] = cells();
            middles_.push_back(middle_of(s));
        }
    }
}

void CopperSheet::join_cells(const std::vector<double>& conductance) {
    std::vector<Eigen::Triplet<double>> entries;
    entries.reserve(middles_.size() * 5);
    for (std::size_t s = 0; s < conductance.size(); ++s) {
        if (cell_of_square_[s] < 0)
            continue;
        visit_neighbours(s, [&](std::size_t next) {
            if (cell_of_square_[next] < 0)
                return;
            // Half a square of each in series.
            const double joint = 2.0 / (1.0 / conductance[s] + 1.0 / conductance[next]);
            entries.emplace_back(cell_of_square_[s], cell_of_square_[s], joint);
            entries.emplace_back(cell_of_square_[s], cell_of_square_[next], -joint);
        });
    }
    laplacian_.resize(cells(), cells());
    laplacian_.setFromTriplets(entries.begin(), entries.end());
    if (cells() > 1) {
        const Eigen::SparseMatrix<double> held = laplacian_.topLeftCorner(cells() - 1, cells() - 1);
        solver_.compute(held);
    }
}

int CopperSheet::cell_at(const Point& point) const {
    const int column = static_cast<int>(std::floor((point.x_mm - origin_.x_mm) / cell_mm_));
    const int row = static_cast<int>(std::floor((point.y_mm - origin_.y_mm) / cell_mm_));
    if (column >= 0 && column < columns_ && row >= 0 && row < rows_) {
        const int cell = cell_of_square_[static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
                                         static_cast<std::size_t>(column)];
        if (cell >= 0)
            return cell;
    }
    int nearest = 0;
    double least_mm = std::numeric_limits<double>::infinity();
    for (int cell = 0; cell < cells(); ++cell) {
        const double away_mm = distance_mm(middle(cell), point);
        if (away_mm < least_mm) {
            least_mm = away_mm;
            nearest = cell;
        }
    }
    return nearest;
}

Eigen::VectorXd CopperSheet::response(int cell) const {
    return responses({cell}).col(0);
}

// L D L^T x = b for all columns at once, in place (the factors are those of the permuted matrix).
void CopperSheet::solve_at_once(Columns& columns) const {
    const auto& lower = solver_.matrixL().nestedExpression();
    const Eigen::Index size = lower.cols();
    for (Eigen::Index k = 0; k < size; ++k) {
        const auto own = columns.row(k).eval();
        for (Eigen::SparseMatrix<double>::InnerIterator it(lower, k); it; ++it)
            if (it.row() > k)
                columns.row(it.row()) -= it.value() * own;
    }
    const auto diagonal = solver_.vectorD();
    for (Eigen::Index k = size; k-- > 0;) {
        auto own = (columns.row(k) / diagonal[k]).eval();
        for (Eigen::SparseMatrix<double>::InnerIterator it(lower, k); it; ++it)
            if (it.row() > k)
                own -= it.value() * columns.row(it.row());
        columns.row(k) = own;
    }
}

Eigen::MatrixXd CopperSheet::responses(const std::vector<int>& cells_in) const {
    const auto count = static_cast<Eigen::Index>(cells_in.size());
    Eigen::MatrixXd volts = Eigen::MatrixXd::Zero(cells(), count);
    if (cells() == 1)
        return volts;
    const Eigen::Index held = cells() - 1;
    const auto& place = solver_.permutationP().indices();
    Columns columns(held, at_once);
    for (Eigen::Index first = 0; first < count; first += at_once) {
        const Eigen::Index here = std::min<Eigen::Index>(at_once, count - first);
        columns.setConstant(-1.0 / cells());
        for (Eigen::Index c = 0; c < here; ++c) {
            const int cell = cells_in[static_cast<std::size_t>(first + c)];
            if (cell < held)
                columns(place[cell], c) += 1.0;
        }
        solve_at_once(columns);
        for (Eigen::Index c = 0; c < here; ++c) {
            for (Eigen::Index i = 0; i < held; ++i)
                volts(i, first + c) = columns(place[i], c);
            volts.col(first + c).array() -= volts.col(first + c).mean();
        }
    }
    return volts;
}

// Both groups are held at one volt each: the others follow from the sheet, and the current from its balance.
double CopperSheet::ohms_between(const std::vector<int>& in, const std::vector<int>& out) const {
    std::vector<int> place(static_cast<std::size_t>(cells()), 0);
    for (const int cell : in)
        place[static_cast<std::size_t>(cell)] = -1;
    for (const int cell : out)
        place[static_cast<std::size_t>(cell)] = -2;
    int free = 0;
    for (int& p : place)
        p = p < 0 ? p : free++;
    std::vector<Eigen::Triplet<double>> entries;
    Eigen::VectorXd driven = Eigen::VectorXd::Zero(free);
    for (int k = 0; k < laplacian_.outerSize(); ++k) {
        for (Eigen::SparseMatrix<double>::InnerIterator it(laplacian_, k); it; ++it) {
            const int row = place[static_cast<std::size_t>(it.row())];
            const int column = place[static_cast<std::size_t>(it.col())];
            if (row < 0)
                continue;
            if (column >= 0)
                entries.emplace_back(row, column, it.value());
            else if (column == -1)
                driven[row] -= it.value();  // held at 1 V; the others at 0
        }
    }
    Eigen::VectorXd volts;
    if (free > 0) {
        Eigen::SparseMatrix<double> inner(free, free);
        inner.setFromTriplets(entries.begin(), entries.end());
        Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(inner);
        volts = solver.solve(driven);
    }
    const auto volts_of = [&](int cell) {
        const int p = place[static_cast<std::size_t>(cell)];
        return p >= 0 ? volts[p] : p == -1 ? 1.0 : 0.0;
    };
    double amps = 0.0;
    for (const int cell : in) {
        for (Eigen::SparseMatrix<double>::InnerIterator it(laplacian_, cell); it; ++it)
            amps += it.value() * volts_of(static_cast<int>(it.row()));
    }
    return 1.0 / amps;
}

}  // namespace eh
