// SPDX-License-Identifier: GPL-3.0-or-later
// Heat that follows a rhythm: a few millikelvin under the noise of single frames, and apart from everything
// that is warm all the time.
//
// Each pixel's course is fitted by least squares with a constant, a drift, and a sine and cosine of the
// rhythm (two-phase lock-in; as in lock-in thermography, Breitenstein and Langenkamp, chapter 2, from
// memory).
#pragma once

#include <array>
#include <vector>

#include "core/base/result.h"
#include "core/thermal/thermal_frame.h"

namespace eh {

struct LockInImage {
    HeatImage heat;
    int frames = 0;
    double cycles = 0.0;
};

class LockIn {
  public:
    // For frames of so many pixels; requires both positive.
    LockIn(int width, int height);

    // A frame of this size, the cycles that had passed when it was taken (whole and part), and its time.
    // Frames of another size are left out; false then.
    bool add(const ThermalFrame& frame, double cycles, double t_s);
    [[nodiscard]] int frames() const { return frames_; }
    // Refused with too little: under three cycles, or under eight frames.
    [[nodiscard]] Result<LockInImage> image() const;

  private:
    static constexpr std::size_t terms = 4;  // constant, drift, cosine, sine

    int width_;
    int height_;
    int frames_ = 0;
    double first_cycles_ = 0.0;
    double last_cycles_ = 0.0;
    double first_s_ = 0.0;
    std::vector<float> reference_;                // the first frame: what follows are small differences
    std::array<std::vector<float>, terms> sums_;  // of difference times term, by pixel
    std::vector<float> squares_;                  // of the differences
    std::array<std::array<double, terms>, terms> products_{};  // of term and term
};

// The part of an image in step with where it is strongest, signed, for people to look at. An image without a
// rhythm is as it was.
HeatImage in_step(const HeatImage& image);

// Mean of the later frames less mean of the earlier ones, with the noise that the frames themselves show (a
// guess from neighbouring pixels where there is one frame of a kind). Refused: no frames, or unlike sizes.
Result<HeatImage> rise_between(const std::vector<ThermalFrame>& before,
                               const std::vector<ThermalFrame>& after);

}  // namespace eh
