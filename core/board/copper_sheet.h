// SPDX-License-Identifier: GPL-3.0-or-later
// A piece of copper as a resistive sheet: volts everywhere for current that goes in at one place and out at
// another.
//
// The outline is cut into square cells; neighbours are joined by one square's resistance, edges carry none
// out (finite differences of the sheet's Laplace equation). Ohms are in units of the sheet resistance, since
// that is not known beforehand.
#pragma once

#include <Eigen/SparseCholesky>
#include <functional>
#include <vector>

#include "core/board/board_map.h"

namespace eh {

// The convex hull of points, counter-clockwise, each corner once; fewer than three points give what there is.
std::vector<Point> convex_hull(const std::vector<Point>& points);

class CopperSheet {
  public:
    // Cells of about cell_mm within the outline grown by margin_mm, at most most_cells; larger outlines get
    // larger cells. Requires an outline with an area or points to grow around.
    CopperSheet(const std::vector<Point>& outline, double margin_mm, double cell_mm, int most_cells = 40'000);

    // The same with a thickness by cell: conductance relative to the sheet's own, 0 for a slot. `thickness`
    // is asked for each cell's middle. Cells that a slot cuts off from the largest piece fall away.
    CopperSheet(const std::vector<Point>& outline, double margin_mm, double cell_mm,
                const std::function<double(const Point&)>& thickness, int most_cells = 40'000);

    [[nodiscard]] int cells() const { return static_cast<int>(middles_.size()); }
    [[nodiscard]] double cell_mm() const { return cell_mm_; }
    [[nodiscard]] const Point& middle(int cell) const { return middles_[static_cast<std::size_t>(cell)]; }
    // The cell that holds a point, or the nearest one.
    [[nodiscard]] int cell_at(const Point& point) const;

    // Potential of every cell for one ampere that goes in at `cell` and out everywhere else evenly, by cell,
    // in volts for a sheet of 1 ohm a square; sums to 0. Differences of two such columns are a current from
    // place to place.
    [[nodiscard]] Eigen::VectorXd response(int cell) const;
    // The same for many cells, one column each: several times as fast as one by one.
    [[nodiscard]] Eigen::MatrixXd responses(const std::vector<int>& cells) const;

    // Ohms (of a sheet of 1 ohm a square) seen between two groups of cells that are each held together.
    [[nodiscard]] double ohms_between(const std::vector<int>& in, const std::vector<int>& out) const;

  private:
    void build(const std::vector<Point>& outline, double margin_mm, double cell_mm,
               const std::function<double(const Point&)>& thickness, int most_cells);
    void lay_grid(const std::vector<Point>& outline, double margin_mm, double cell_mm, int most_cells);
    [[nodiscard]] Point middle_of(std::size_t square) const;
    template <typename Visit>
    void visit_neighbours(std::size_t square, const Visit& visit) const;
    void keep_largest_piece(const std::vector<double>& conductance);
    void join_cells(const std::vector<double>& conductance);

    static constexpr int at_once = 8;  // columns that are solved together, so that each entry is fetched once
    using Columns = Eigen::Matrix<double, Eigen::Dynamic, at_once, Eigen::RowMajor>;
    void solve_at_once(Columns& columns) const;

    double cell_mm_ = 1.0;
    Point origin_;
    int columns_ = 0;
    int rows_ = 0;
    std::vector<int> cell_of_square_;  // -1 outside
    std::vector<Point> middles_;
    Eigen::SparseMatrix<double> laplacian_;
    Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver_;  // with the last cell held at 0
};

}  // namespace eh
