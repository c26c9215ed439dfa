// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/battery/pack.h"

#include <algorithm>

namespace eh {
namespace {

std::vector<std::pair<double, double>> table_of(const Chemistry& cells) {
    if (cells.rest_volts.size() >= 2)
        return cells.rest_volts;
    return {{0.0, cells.empty_volts}, {1.0, cells.full_volts}};
}

// The stretch of the table that holds the value, by first or second member.
template <typename Member>
std::size_t stretch(const std::vector<std::pair<double, double>>& table, double value, Member member) {
    std::size_t i = 0;
    while (i + 2 < table.size() && table[i + 1].*member < value)
        ++i;
    return i;
}

}  // namespace

double rest_volts(const Pack& pack, double state) {
    const auto table = table_of(pack.cells);
    const double s = std::clamp(state, 0.0, 1.0);
    const std::size_t i = stretch(table, s, &std::pair<double, double>::first);
    const double t = (s - table[i].first) / (table[i + 1].first - table[i].first);
    return pack.in_series * (table[i].second + t * (table[i + 1].second - table[i].second));
}

double charge_state(const Pack& pack, double volts) {
    const auto table = table_of(pack.cells);
    const double cell = volts / pack.in_series;
    const std::size_t i = stretch(table, cell, &std::pair<double, double>::second);
    const double t = (cell - table[i].second) / (table[i + 1].second - table[i].second);
    return std::clamp(table[i].first + t * (table[i + 1].first - table[i].first), 0.0, 1.0);
}

double rest_slope(const Pack& pack, double state) {
    const auto table = table_of(pack.cells);
    const std::size_t i = stretch(table, std::clamp(state, 0.0, 1.0), &std::pair<double, double>::first);
    return pack.in_series * (table[i + 1].second - table[i].second) / (table[i + 1].first - table[i].first);
}

}  // namespace eh
