// SPDX-License-Identifier: GPL-3.0-or-later
// LU factors of sparse matrices that share one pattern, without pivoting.
//
// The elimination order (least degree first) and every single operation are worked out once for a pattern;
// factoring then runs through a flat list. Made for nodal equations, some tens of unknowns with three or four
// entries a row, which are solved thousands of times. Where a pivot is lost to cancellation, factor() says so
// and the caller takes a method that pivots.
//
// Check: for a pattern without fill-in the cost is one multiplication per entry pair; the factors times each
// other give the matrix back (tests/core/electrics/pattern_lu_test.cpp).
#pragma once

#include <utility>
#include <vector>

namespace eh {

class PatternLu {
  public:
    // Takes the places of entries that may differ from 0, (row, column) with 0 <= row, column < size, in any
    // order and with repeats. The diagonal and the mirror image of each place are added.
    void study(int size, const std::vector<std::pair<int, int>>& places);

    [[nodiscard]] int size() const { return size_; }
    // Where the entry is kept in an array of values(); requires a place of the pattern.
    [[nodiscard]] int slot(int row, int column) const;
    // Length of the array of values that factor() takes; entries not set must be 0.
    [[nodiscard]] int value_count() const { return value_count_; }

    // Factors the matrix; keeps the factors. False when a pivot has lost its digits: nothing may be solved.
    bool factor(const std::vector<double>& values);
    // Replaces `b`, at least size() long, by the solution. Requires a factor() that returned true.
    void solve(std::vector<double>& b) const;

  private:
    struct Update {  // values[target] -= values[left] * values[right]
        int target, left, right;
    };
    struct Pivot {
        int diagonal;     // slot
        int first_scale;  // slots of the column below the pivot, divided by it
        int scale_count;
        int first_update;  // then these
        int update_count;
    };
    struct Entry {  // of a triangle, for solving: row and column in elimination order
        int row, column, slot;
    };

    int size_ = 0;
    int value_count_ = 0;
    std::vector<int> order_;     // unknown by place in the elimination
    std::vector<int> position_;  // and the other way round
    std::vector<int> slots_;     // slot by place: size_ * size_, in elimination order, -1 outside
    std::vector<Pivot> pivots_;
    std::vector<int> scales_;
    std::vector<Update> updates_;
    std::vector<Entry> lower_;  // column by column, downward
    std::vector<Entry> upper_;  // row by row, upward
    std::vector<double> factors_;
    std::vector<double> inverse_;  // of the pivots
    mutable std::vector<double> work_;
};

}  // namespace eh
