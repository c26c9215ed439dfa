// SPDX-License-Identifier: GPL-3.0-or-later
// The bench's own rework as a file (format eager-hound.heat-logs/1).
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/rework/heat_calibration.h"

namespace eh {

// A log as it is kept: the part by its id, since its values may be corrected later.
struct KeptHeatLog {
    std::string part;  // id in heat_parts.json
    std::string job;
    std::int64_t when_ms = 0;
    HeatLog log;  // setup.part is filled from `part`
};

// Reads logs; parts that `parts` does not hold are refused with file and field.
Result<std::vector<KeptHeatLog>> parse_heat_logs(const std::string& text, const std::string& file,
                                                 const std::vector<HeatPart>& parts);
std::string write_heat_logs(const std::vector<KeptHeatLog>& logs);

}  // namespace eh
