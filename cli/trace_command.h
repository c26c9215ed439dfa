// SPDX-License-Identifier: GPL-3.0-or-later
// The subcommand `trace`: a recording of the inline meter read as states and events.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "core/base/result.h"

namespace eh::cli {

// Spans, events and the source's resistance of a CSV "t_s,volts,amps"; "-" reads standard input.
Result<nlohmann::json> read_trace_file(const std::string& file);

}  // namespace eh::cli
