// SPDX-License-Identifier: GPL-3.0-or-later
// Machines with an effect that the catalogue does not hold: internal to the ranking.
#pragma once

#include <cmath>
#include <span>
#include <vector>

namespace eh {

// How likely the readings are of machines like the samples of one hypothesis with an unknown effect. One
// object serves all hypotheses in turn, so that its room is made once.
class UnknownEffect {
  public:
    // Of the readings that such an effect shows in.
    explicit UnknownEffect(double shows) : shows_(shows) {}

    void begin(const std::vector<double>& weights, double log_prior) {
        weights_ = weights;
        log_ = log_prior;
    }

    // Log of the joint, with one reading more: `meant` is its density by sample where it is not odd.
    double with(std::span<const double> meant, double broad) {
        double total = 0.0;
        for (std::size_t s = 0; s < weights_.size(); ++s) {
            weights_[s] *= (1.0 - shows_) * meant[s] + shows_ * broad;
            total += weights_[s];
        }
        const double scale = 1.0 / total;
        for (double& weight : weights_)
            weight *= scale;
        log_ += std::log(total);
        return log_;
    }

    // The same for a number that comes again: whether by the effect or not, it tells nothing more of the
    // machine.
    double with_again(double density) {
        log_ += std::log(density);
        return log_;
    }

  private:
    double shows_;
    double log_ = 0.0;
    std::vector<double> weights_;
};

}  // namespace eh
