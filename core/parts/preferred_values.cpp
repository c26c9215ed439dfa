// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/preferred_values.h"

#include <cassert>
#include <cmath>
#include <map>

namespace eh {
namespace {

constexpr double same_value = 1e-3;

std::vector<double> make_decade(Series series) {
    static const std::vector<double> e24{1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0,
                                         3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};
    const int count = static_cast<int>(series);
    std::vector<double> values;
    if (count <= 24) {
        const std::size_t step = e24.size() / static_cast<std::size_t>(count);
        for (std::size_t i = 0; i < e24.size(); i += step)
            values.push_back(e24[i]);
        return values;
    }
    for (int i = 0; i < count; ++i) {
        const double rounded = std::round(std::pow(10.0, static_cast<double>(i) / count) * 100.0) / 100.0;
        values.push_back(std::abs(rounded - 9.19) < 1e-9 ? 9.20 : rounded);
    }
    return values;
}

}  // namespace

const std::vector<double>& decade(Series series) {
    static const std::map<Series, std::vector<double>> decades = [] {
        std::map<Series, std::vector<double>> all;
        for (const Series s :
             {Series::e3, Series::e6, Series::e12, Series::e24, Series::e48, Series::e96, Series::e192})
            all[s] = make_decade(s);
        return all;
    }();
    return decades.at(series);
}

double nearest_preferred(double value, Series series) {
    assert(value > 0.0);
    const double power = std::pow(10.0, std::floor(std::log10(value)));
    double best = 0.0;
    const auto consider = [&](double candidate) {
        if (best == 0.0 || std::abs(std::log(candidate / value)) < std::abs(std::log(best / value)))
            best = candidate;
    };
    for (const double mantissa : decade(series))
        consider(mantissa * power);
    consider(10.0 * power);
    return best;
}

bool is_preferred(double value, Series series) {
    return value > 0.0 && std::abs(nearest_preferred(value, series) / value - 1.0) < same_value;
}

}  // namespace eh
