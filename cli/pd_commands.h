// SPDX-License-Identifier: GPL-3.0-or-later
// The subcommand `pd`: what charger and machine say to each other.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "cli/commands.h"
#include "core/usbc/cc_capture.h"

namespace eh::cli {

// Every packet of a capture file with a sentence, and what the conversation came to.
Result<nlohmann::json> read_talk(const std::string& file, const pd::CaptureOptions& options,
                                 double wanted_volts);

// What a machine says from plugging in on, as a value-change dump (".vcd") or a list of messages.
Result<nlohmann::json> write_talk(const Shop& shop, const SimulateOptions& options, const std::string& file);

}  // namespace eh::cli
