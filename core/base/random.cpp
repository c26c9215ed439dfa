// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/random.h"

#include <array>
#include <cassert>

namespace eh {
namespace {

template <std::size_t N>
double polynomial(const std::array<double, N>& coefficients, double x) {
    double value = 0.0;
    for (const double c : coefficients)
        value = value * x + c;
    return value;
}

}  // namespace

double normal_quantile(double p) {
    assert(p > 0.0 && p < 1.0 && "normal_quantile: p outside (0, 1)");
    constexpr std::array a{-3.969683028665376e+01, 2.209460984245205e+02,  -2.759285104469687e+02,
                           1.383577518672690e+02,  -3.066479806614716e+01, 2.506628277459239e+00};
    constexpr std::array b{-5.447609879822406e+01, 1.615858368580409e+02,  -1.556989798598866e+02,
                           6.680131188771972e+01,  -1.328068155288572e+01, 1.0};
    constexpr std::array c{-7.784894002430293e-03, -3.223964580411365e-01, -2.400758277161838e+00,
                           -2.549732539343734e+00, 4.374664141464968e+00,  2.938163982698783e+00};
    constexpr std::array d{7.784695709041462e-03, 3.224671290700398e-01, 2.445134137142996e+00,
                           3.754408661907416e+00, 1.0};
    constexpr double tail = 0.02425;
    if (p < tail) {
        const double q = std::sqrt(-2.0 * std::log(p));
        return polynomial(c, q) / polynomial(d, q);
    }
    if (p > 1.0 - tail)
        return -normal_quantile(1.0 - p);
    const double q = p - 0.5;
    const double r = q * q;
    return polynomial(a, r) * q / polynomial(b, r);
}

}  // namespace eh
