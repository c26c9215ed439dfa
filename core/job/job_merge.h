// SPDX-License-Identifier: GPL-3.0-or-later
// Two states of one job that meet: what differs, and one of them with the readings of both.
#pragma once

#include <string>
#include <vector>

#include "core/job/job.h"

namespace eh {

// How `theirs` differs from `ours`, a sentence each, for somebody who has to choose: times of the newest
// entry, readings and work that only one side has, the stage, the ticket. Empty when they are the same.
[[nodiscard]] std::vector<std::string> differences(const Job& ours, const Job& theirs);

// When something was last added to a job, milliseconds since 1970: its newest reading, work or finding, or
// its beginning.
[[nodiscard]] std::int64_t last_entry_ms(const Job& job);

// `keep` with the readings that only `other` has behind its own. A reading of the same id but another content
// is another reading: it gets an id that is free. Everything else is that of `keep`.
[[nodiscard]] Job with_readings_of(Job keep, const Job& other);

}  // namespace eh
