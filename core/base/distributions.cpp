// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/distributions.h"

#include <boost/math/distributions/beta.hpp>
#include <boost/math/distributions/gamma.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cassert>

namespace eh {
namespace {

[[maybe_unused]] bool is_probability(double value) {
    return value > 0.0 && value < 1.0;
}

}  // namespace

double student_quantile(double probability, double freedom) {
    assert(freedom > 0.0 && is_probability(probability) && "student_quantile");
    return boost::math::quantile(boost::math::students_t(freedom), probability);
}

double beta_quantile(double a, double b, double probability) {
    assert(a > 0.0 && b > 0.0 && is_probability(probability) && "beta_quantile");
    return boost::math::quantile(boost::math::beta_distribution<>(a, b), probability);
}

double poisson_upper(int counted, double confidence) {
    assert(counted >= 0 && is_probability(confidence) && "poisson_upper");
    return boost::math::quantile(boost::math::gamma_distribution<>(counted + 1.0), confidence);
}

}  // namespace eh
