// SPDX-License-Identifier: GPL-3.0-or-later
// Reproducible random numbers: the same seed gives the same draws on every machine and library.
#pragma once

#include <cmath>
#include <cstdint>
#include <numbers>

namespace eh {

// SplitMix64 (Steele, Lea and Flood 2014).
class Random {
  public:
    explicit Random(std::uint64_t seed) : state_(seed) {}

    std::uint64_t next() {
        std::uint64_t z = (state_ += 0x9e3779b97f4a7c15ULL);
        z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ULL;
        z = (z ^ (z >> 27)) * 0x94d049bb133111ebULL;
        return z ^ (z >> 31);
    }
    // In [0, 1).
    double uniform() { return static_cast<double>(next() >> 11) * 0x1.0p-53; }
    // Standard normal, by Box and Muller.
    double normal() {
        const double radius = std::sqrt(-2.0 * std::log(1.0 - uniform()));
        return radius * std::cos(2.0 * std::numbers::pi * uniform());
    }
    // Integer in [0, count). Requires count > 0.
    int below(int count) { return static_cast<int>(uniform() * count); }

  private:
    std::uint64_t state_;
};

// Inverse of the standard normal distribution for 0 < p < 1 (Acklam's rational approximation, relative
// error below 1.2e-9).
double normal_quantile(double p);

}  // namespace eh
