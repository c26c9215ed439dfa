// SPDX-License-Identifier: GPL-3.0-or-later
// Invented jobs that the demo shop has behind it, so that its statistics have something to show.
#pragma once

#include <cstdint>
#include <vector>

#include "core/job/job.h"

namespace eh {

// The same every time, but for the dates, which lie before `now_ms`: receptacles and jacks that were replaced
// with two solders, some of which came back; repairs of several kinds that are proven, with what had been
// read and said before; and jobs that wait for a part, for a customer and for a look again.
std::vector<Job> earlier_jobs(std::int64_t now_ms);

}  // namespace eh
