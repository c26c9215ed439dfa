// SPDX-License-Identifier: GPL-3.0-or-later
// The conversation on the CC line along a course: what a recorder at the plug would hear.
#pragma once

#include <vector>

#include "core/machine/simulation/course.h"
#include "core/usbc/line_code.h"

namespace eh {

// Packets from plugging in (0 s) to until_s, cycles unrolled. Requires the model that ran the course, in the
// configuration of it; a charger that does not speak says nothing. Timing: the kernel's
// include/linux/usb/pd.h.
std::vector<pd::Frame> port_talk(const MachineModel& model, const Course& course, double until_s);

}  // namespace eh
