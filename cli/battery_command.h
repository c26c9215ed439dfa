// SPDX-License-Identifier: GPL-3.0-or-later
// `eager-hound-cli battery`: what a pack's readings and a machine's own report say.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "core/base/result.h"
#include "core/machine/model/knowledge.h"

namespace eh::cli {

// `text` is a job file with a battery log, or the text of a Linux power_supply uevent. The answer holds the
// report, the verdict over the readings, and the time to full, as far as each can be said.
Result<nlohmann::json> battery(const Knowledge& knowledge, const std::string& text, const std::string& file);

}  // namespace eh::cli
