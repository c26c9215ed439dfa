// SPDX-License-Identifier: GPL-3.0-or-later
// Machines with an effect that the catalogue does not hold: internal to the ranking.
#pragma once

#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

namespace eh {

// How likely the readings are of machines like the samples of one hypothesis with an unknown effect. One
// object serves all hypotheses in turn, so that its room is made once.
class UnknownEffect {
  public:
    UnknownEffect(double shows, std::size_t readings, std::size_t samples)
        : shows_(shows), weights_(samples), showed_(readings * samples) {}

    void begin(const std::vector<double>& weights, double log_prior) {
        weights_ = weights;
        log_ = log_prior;
    }

    // Log of the joint, with reading number `r` more: `meant` is its density by sample where it is not odd,
    // `same` that of the number of reading `before` coming again (-1: it does not). An effect that showed
    // once at a place shows there again.
    double with(std::size_t r, std::span<const double> meant, double broad, int before,
                const std::vector<double>& same) {
        double* const showed = &showed_[r * weights_.size()];
        const double* const showed_before =
            before < 0 ? nullptr : &showed_[static_cast<std::size_t>(before) * weights_.size()];
        double total = 0.0;
        for (std::size_t s = 0; s < weights_.size(); ++s) {
            double by_effect = shows_ * broad;
            double seen = (1.0 - shows_) * meant[s] + by_effect;
            if (showed_before != nullptr) {
                const double again = showed_before[s];
                by_effect = (1.0 - again) * by_effect + again * same[s];
                seen = (1.0 - again) * seen + again * same[s];
            }
            showed[s] = std::min(1.0, by_effect / seen);
            weights_[s] *= seen;
            total += weights_[s];
        }
        const double scale = 1.0 / total;
        for (double& weight : weights_)
            weight *= scale;
        log_ += std::log(total);
        return log_;
    }

  private:
    double shows_;
    double log_ = 0.0;
    std::vector<double> weights_;
    std::vector<double> showed_;  // share of a reading that is the effect's: by reading, then sample
};

}  // namespace eh
