// SPDX-License-Identifier: GPL-3.0-or-later
// A picture of temperatures, as a thermal camera gives it.
#pragma once

#include <optional>
#include <vector>

namespace eh {

struct ThermalFrame {
    int width = 0;
    int height = 0;
    std::vector<float> celsius;   // row by row from the upper left
    std::optional<double> t_s;    // when it was taken; frames of one sequence share a clock
    std::optional<bool> powered;  // whether the supply was on, where the camera's stand knows

    [[nodiscard]] float at(int x, int y) const {
        return celsius[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                       static_cast<std::size_t>(x)];
    }
    [[nodiscard]] bool same_size(const ThermalFrame& other) const {
        return width == other.width && height == other.height;
    }
};

// How much warmer each pixel is than in a reference, or how much it follows a rhythm: amplitude from the mean
// to the top of the wave, in step with the rhythm's start and a quarter of a cycle behind.
struct HeatImage {
    int width = 0;
    int height = 0;
    std::vector<float> kelvin;
    std::vector<float> quarter_behind;  // empty when there is no rhythm
    double noise_kelvin = 0.0;          // one sigma of a pixel, of each of the two

    [[nodiscard]] float at(int x, int y) const {
        return kelvin[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                      static_cast<std::size_t>(x)];
    }
};

}  // namespace eh
