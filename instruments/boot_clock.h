// SPDX-License-Identifier: GPL-3.0-or-later
// The clock by which live readings are placed.
#pragma once

namespace eh {

// Seconds since this computer was started. Goes on while it is suspended, as the clock on the wall does, but
// is never set back (Linux' CLOCK_BOOTTIME, clock_gettime(2)).
double boot_clock_s();

}  // namespace eh
