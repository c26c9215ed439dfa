// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/bayes.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>

namespace eh {

double log_sum_exp(const std::vector<double>& logs) {
    if (logs.empty())
        return -std::numeric_limits<double>::infinity();
    const double top = *std::max_element(logs.begin(), logs.end());
    if (!std::isfinite(top))
        return top;
    double sum = 0.0;
    for (const double value : logs)
        sum += std::exp(value - top);
    return top + std::log(sum);
}

std::vector<double> posterior(const std::vector<double>& log_joint) {
    const double total = log_sum_exp(log_joint);
    assert(std::isfinite(total) && "posterior: nothing is possible");
    std::vector<double> probabilities;
    probabilities.reserve(log_joint.size());
    for (const double value : log_joint)
        probabilities.push_back(std::exp(value - total));
    return probabilities;
}

double effective_number(const std::vector<double>& weights) {
    double total = 0.0;
    double squares = 0.0;
    for (const double weight : weights) {
        total += weight;
        squares += weight * weight;
    }
    return total * total / squares;
}

}  // namespace eh
