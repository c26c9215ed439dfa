// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/thermal/lock_in.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/quantile.h"
#include "core/thermal/smoothing.h"

namespace eh {
namespace {

constexpr double fewest_cycles = 3.0;
constexpr int fewest_frames = 8;

std::size_t pixels_of(int width, int height) {
    return static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
}

// The mean that a median of sums of so many squares of normal values stands for (Wilson and Hilferty 1931).
double mean_from_median(double median_of_squares, double degrees) {
    return median_of_squares / std::pow(1.0 - 2.0 / (9.0 * degrees), 3);
}

// Noise of a picture from its second differences along the rows: what is smooth does not disturb it.
double noise_within(int width, int height, const std::vector<float>& values) {
    std::vector<float> differences;
    for (int y = 0; y < height; ++y) {
        const auto row = pixels_of(width, y);
        for (std::size_t x = row + 1; x + 1 < row + static_cast<std::size_t>(width); ++x)
            differences.push_back(std::abs(values[x - 1] - 2.0F * values[x] + values[x + 1]));
    }
    constexpr double median_of_normal = 0.6745;
    const double second_difference = std::sqrt(6.0);
    return differences.empty() ? 0.0 : median(std::move(differences)) / median_of_normal / second_difference;
}

}  // namespace

LockIn::LockIn(int width, int height) : width_(width), height_(height) {
    for (auto& sum : sums_)
        sum.assign(pixels_of(width, height), 0.0F);
    squares_.assign(pixels_of(width, height), 0.0F);
}

bool LockIn::add(const ThermalFrame& frame, double cycles, double t_s) {
    if (frame.width != width_ || frame.height != height_)
        return false;
    if (frames_++ == 0) {
        reference_ = frame.celsius;
        first_cycles_ = cycles;
        first_s_ = t_s;
    }
    last_cycles_ = cycles;
    constexpr double drift_unit_s = 60.0;  // keeps the terms of one size
    const double angle = 2.0 * std::numbers::pi * (cycles - std::floor(cycles));
    const std::array<double, terms> term{1.0, (t_s - first_s_) / drift_unit_s, std::cos(angle),
                                         std::sin(angle)};
    for (std::size_t i = 0; i < terms; ++i)
        for (std::size_t k = 0; k < terms; ++k)
            products_[i][k] += term[i] * term[k];
    const auto drift = static_cast<float>(term[1]);
    const auto cosine = static_cast<float>(term[2]);
    const auto sine = static_cast<float>(term[3]);
    const float* const seen = frame.celsius.data();
    const float* const reference = reference_.data();
    float* const constant_sum = sums_[0].data();
    float* const drift_sum = sums_[1].data();
    float* const cosine_sum = sums_[2].data();
    float* const sine_sum = sums_[3].data();
    float* const squares = squares_.data();
    const std::size_t count = reference_.size();
    for (std::size_t i = 0; i < count; ++i) {
        const float difference = seen[i] - reference[i];
        constant_sum[i] += difference;
        drift_sum[i] += difference * drift;
        cosine_sum[i] += difference * cosine;
        sine_sum[i] += difference * sine;
        squares[i] += difference * difference;
    }
    return true;
}

Result<LockInImage> LockIn::image() const {
    if (frames_ < fewest_frames || last_cycles_ - first_cycles_ < fewest_cycles)
        return refused("let the supply go on and off three times or more while the camera looks", "frames");
    Eigen::Matrix4d products;
    for (std::size_t i = 0; i < terms; ++i)
        for (std::size_t k = 0; k < terms; ++k)
            products(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(k)) = products_[i][k];
    const Eigen::FullPivLU<Eigen::Matrix4d> solver(products);
    if (!solver.isInvertible())
        return refused("the frames all fall on one moment of the rhythm; take them at another pace",
                       "frames");
    const Eigen::Matrix4f inverse = solver.inverse().cast<float>();
    LockInImage image{{width_, height_, {}, {}, 0.0}, frames_, last_cycles_ - first_cycles_};
    const std::size_t count = reference_.size();
    image.heat.kelvin.resize(count);
    image.heat.quarter_behind.resize(count);
    std::vector<float> left(count);
    for (std::size_t i = 0; i < count; ++i) {
        const Eigen::Vector4f sums(sums_[0][i], sums_[1][i], sums_[2][i], sums_[3][i]);
        const Eigen::Vector4f fit = inverse * sums;
        image.heat.kelvin[i] = fit[2];
        image.heat.quarter_behind[i] = fit[3];
        left[i] = std::max(0.0F, squares_[i] - fit.dot(sums));
    }
    const double degrees = frames_ - static_cast<int>(terms);
    const double variance = mean_from_median(median(std::move(left)) / degrees, degrees);
    image.heat.noise_kelvin = std::sqrt(variance * 0.5 * double{inverse(2, 2) + inverse(3, 3)});
    return image;
}

HeatImage in_step(const HeatImage& image) {
    if (image.quarter_behind.empty())
        return image;
    const std::vector<float> in_phase = smoothed(image.kelvin, image.width, image.height, 2);
    const std::vector<float> behind = smoothed(image.quarter_behind, image.width, image.height, 2);
    std::size_t strongest = 0;
    for (std::size_t i = 0; i < in_phase.size(); ++i)
        if (std::hypot(in_phase[i], behind[i]) > std::hypot(in_phase[strongest], behind[strongest]))
            strongest = i;
    const float angle = std::atan2(behind[strongest], in_phase[strongest]);
    HeatImage step{image.width, image.height, image.kelvin, {}, image.noise_kelvin};
    for (std::size_t i = 0; i < step.kelvin.size(); ++i)
        step.kelvin[i] = image.kelvin[i] * std::cos(angle) + image.quarter_behind[i] * std::sin(angle);
    return step;
}

namespace {

struct MeanFrame {
    std::vector<double> celsius;
    double variance = 0.0;  // of the mean, of a pixel
};

MeanFrame mean_of(const std::vector<ThermalFrame>& frames) {
    MeanFrame mean;
    const std::size_t pixels = frames.front().celsius.size();
    mean.celsius.assign(pixels, 0.0);
    for (const ThermalFrame& frame : frames)
        for (std::size_t i = 0; i < pixels; ++i)
            mean.celsius[i] += double{frame.celsius[i]} / static_cast<double>(frames.size());
    if (frames.size() < 2) {
        mean.variance =
            std::pow(noise_within(frames.front().width, frames.front().height, frames.front().celsius), 2);
        return mean;
    }
    // Of differences of neighbours in time: a part that warms up does not count as noise.
    std::vector<float> squares(pixels, 0.0F);
    for (std::size_t f = 1; f < frames.size(); ++f)
        for (std::size_t i = 0; i < pixels; ++i) {
            const float step = frames[f].celsius[i] - frames[f - 1].celsius[i];
            squares[i] += step * step;
        }
    const double steps = static_cast<double>(frames.size() - 1);
    mean.variance = 0.5 * mean_from_median(median(std::move(squares)) / steps, steps) /
                    static_cast<double>(frames.size());
    return mean;
}

}  // namespace

Result<HeatImage> rise_between(const std::vector<ThermalFrame>& before,
                               const std::vector<ThermalFrame>& after) {
    if (before.empty() || after.empty())
        return refused("a frame before and one after the supply went on are needed", "frames");
    for (const auto* frames : {&before, &after})
        for (const ThermalFrame& frame : *frames)
            if (!frame.same_size(before.front()))
                return refused("the frames are of unlike sizes; take them with one camera in one setting",
                               "frames");
    const MeanFrame cold = mean_of(before);
    const MeanFrame warm = mean_of(after);
    HeatImage rise{
        before.front().width, before.front().height, {}, {}, std::sqrt(cold.variance + warm.variance)};
    rise.kelvin.reserve(cold.celsius.size());
    for (std::size_t i = 0; i < cold.celsius.size(); ++i)
        rise.kelvin.push_back(static_cast<float>(warm.celsius[i] - cold.celsius[i]));
    return rise;
}

}  // namespace eh
