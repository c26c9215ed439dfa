// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/pattern_lu.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <set>

namespace eh {
namespace {

// Of the diagonal that the matrix came with; what is left below it is rounding.
constexpr double lost_pivot_share = 1e-13;

using Neighbours = std::vector<std::set<int>>;

// Eliminating an unknown ties its neighbours to each other; the one with fewest neighbours goes next
// (minimum degree; Tinney and Walker 1967, from memory). `neighbours` gains the ties that arise.
std::vector<int> least_degree_order(Neighbours& neighbours) {
    const int size = static_cast<int>(neighbours.size());
    Neighbours left = neighbours;
    std::vector<char> gone(neighbours.size(), 0);
    std::vector<int> order;
    for (int step = 0; step < size; ++step) {
        int next = -1;
        for (int i = 0; i < size; ++i) {
            const auto index = static_cast<std::size_t>(i);
            if (gone[index] == 0 &&
                (next < 0 || left[index].size() < left[static_cast<std::size_t>(next)].size()))
                next = i;
        }
        const auto chosen = static_cast<std::size_t>(next);
        gone[chosen] = 1;
        order.push_back(next);
        for (const int a : left[chosen]) {
            const auto at = static_cast<std::size_t>(a);
            left[at].erase(next);
            for (const int b : left[chosen]) {
                if (b != a) {
                    left[at].insert(b);
                    neighbours[at].insert(b);
                }
            }
        }
    }
    return order;
}

}  // namespace

void PatternLu::study(int size, const std::vector<std::pair<int, int>>& places) {
    size_ = size;
    const auto n = static_cast<std::size_t>(size);
    Neighbours neighbours(n);
    for (const auto& [row, column] : places) {
        assert(row >= 0 && row < size && column >= 0 && column < size);
        if (row != column) {
            neighbours[static_cast<std::size_t>(row)].insert(column);
            neighbours[static_cast<std::size_t>(column)].insert(row);
        }
    }
    order_ = least_degree_order(neighbours);
    position_.assign(n, 0);
    for (std::size_t k = 0; k < n; ++k)
        position_[static_cast<std::size_t>(order_[k])] = static_cast<int>(k);

    slots_.assign(n * n, -1);
    value_count_ = 0;
    std::vector<std::vector<int>> after(n);  // by place in the order: the places after it that it is tied to
    for (std::size_t k = 0; k < n; ++k) {
        slots_[k * n + k] = value_count_++;
        for (const int other : neighbours[static_cast<std::size_t>(order_[k])]) {
            const auto p = static_cast<std::size_t>(position_[static_cast<std::size_t>(other)]);
            slots_[k * n + p] = value_count_++;
            if (p > k)
                after[k].push_back(static_cast<int>(p));
        }
        std::sort(after[k].begin(), after[k].end());
    }

    pivots_.clear();
    scales_.clear();
    updates_.clear();
    lower_.clear();
    upper_.clear();
    const auto slot_at = [&](int row, int column) {
        return slots_[static_cast<std::size_t>(row) * n + static_cast<std::size_t>(column)];
    };
    for (int k = 0; k < size; ++k) {
        const auto& rows = after[static_cast<std::size_t>(k)];
        Pivot pivot{slot_at(k, k), static_cast<int>(scales_.size()), static_cast<int>(rows.size()),
                    static_cast<int>(updates_.size()), 0};
        for (const int i : rows) {
            scales_.push_back(slot_at(i, k));
            lower_.push_back({i, k, slot_at(i, k)});
            upper_.push_back({k, i, slot_at(k, i)});
            for (const int j : rows)
                updates_.push_back({slot_at(i, j), slot_at(i, k), slot_at(k, j)});
        }
        pivot.update_count = static_cast<int>(updates_.size()) - pivot.first_update;
        pivots_.push_back(pivot);
    }
    factors_.assign(static_cast<std::size_t>(value_count_), 0.0);
    inverse_.assign(n, 0.0);
    work_.assign(n, 0.0);
}

int PatternLu::slot(int row, int column) const {
    const auto r = static_cast<std::size_t>(position_[static_cast<std::size_t>(row)]);
    const auto c = static_cast<std::size_t>(position_[static_cast<std::size_t>(column)]);
    const int slot = slots_[r * static_cast<std::size_t>(size_) + c];
    assert(slot >= 0 && "slot: not a place of the pattern");
    return slot;
}

bool PatternLu::factor(const std::vector<double>& values) {
    assert(static_cast<int>(values.size()) >= value_count_);
    std::copy_n(values.begin(), value_count_, factors_.begin());
    double* const v = factors_.data();
    for (std::size_t k = 0; k < pivots_.size(); ++k) {
        const Pivot& pivot = pivots_[k];
        const double diagonal = v[pivot.diagonal];
        const double before = std::abs(values[static_cast<std::size_t>(pivot.diagonal)]);
        // Not the other way round, so that NaN fails too.
        if (!(std::abs(diagonal) > lost_pivot_share * before) || diagonal == 0.0)
            return false;
        const double inverse = 1.0 / diagonal;
        inverse_[k] = inverse;
        for (int s = 0; s < pivot.scale_count; ++s)
            v[scales_[static_cast<std::size_t>(pivot.first_scale + s)]] *= inverse;
        const Update* update = updates_.data() + pivot.first_update;
        for (const Update* const end = update + pivot.update_count; update != end; ++update)
            v[update->target] -= v[update->left] * v[update->right];
    }
    return true;
}

void PatternLu::solve(std::vector<double>& b) const {
    const auto n = static_cast<std::size_t>(size_);
    for (std::size_t k = 0; k < n; ++k)
        work_[k] = b[static_cast<std::size_t>(order_[k])];
    double* const w = work_.data();
    const double* const v = factors_.data();
    for (const Entry& e : lower_)
        w[e.row] -= v[e.slot] * w[e.column];
    // The entries of a row stand together; walking backwards meets them before the rows above need the
    // result.
    std::size_t u = upper_.size();
    for (int k = size_ - 1; k >= 0; --k) {
        for (; u > 0 && upper_[u - 1].row == k; --u)
            w[k] -= v[upper_[u - 1].slot] * w[upper_[u - 1].column];
        w[k] *= inverse_[static_cast<std::size_t>(k)];
    }
    for (std::size_t k = 0; k < n; ++k)
        b[static_cast<std::size_t>(order_[k])] = w[k];
}

}  // namespace eh
