// SPDX-License-Identifier: GPL-3.0-or-later
// Conversations as JSON: a list of packets with their bytes in hex (docs/formats.md, “Messages”).
#pragma once

#include <string>
#include <vector>

#include "core/usbc/cc_capture.h"

namespace eh::pd {

// Packets in the order of time. What could not be read is written as what is known of it.
std::string write_messages(const std::vector<SeenFrame>& frames);
// Refuses what is no such list with file, field and a sentence. Damage is not part of the format but for
// "damaged": such packets come back as not to be trusted.
Result<std::vector<SeenFrame>> parse_messages(const std::string& text, const std::string& file);

}  // namespace eh::pd
