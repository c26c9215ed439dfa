// SPDX-License-Identifier: GPL-3.0-or-later
// What a search over the whole shop looks through.
#pragma once

#include <string>

#include "core/job/job.h"

namespace eh {

// Every word of a job that somebody may remember it by, a line each: numbers, names, claims, what was
// brought, findings, work with its notes, places of readings, notes, handover.
std::string search_text(const Job& job);

}  // namespace eh
