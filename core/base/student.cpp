// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/student.h"

#include <cassert>

#include "core/base/random.h"

namespace eh {

double student_quantile(double probability, double freedom) {
    assert(freedom >= 4.0 && probability > 0.0 && probability < 1.0);
    const double z = normal_quantile(probability);
    const double z2 = z * z;
    const double first = z * (z2 + 1.0) / 4.0;
    const double second = z * ((5.0 * z2 + 16.0) * z2 + 3.0) / 96.0;
    const double third = z * (((3.0 * z2 + 19.0) * z2 + 17.0) * z2 - 15.0) / 384.0;
    const double fourth = z * ((((79.0 * z2 + 776.0) * z2 + 1482.0) * z2 - 1920.0) * z2 - 945.0) / 92160.0;
    return z + (first + (second + (third + fourth / freedom) / freedom) / freedom) / freedom;
}

}  // namespace eh
