// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/boot_clock.h"

#include <ctime>

namespace eh {

double boot_clock_s() {
    std::timespec now{};
    clock_gettime(CLOCK_BOOTTIME, &now);
    return static_cast<double>(now.tv_sec) + 1e-9 * static_cast<double>(now.tv_nsec);
}

}  // namespace eh
