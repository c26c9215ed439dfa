// SPDX-License-Identifier: GPL-3.0-or-later
// `eager-hound-cli conversion`: from a barrel inlet to USB-C, calculated before it is soldered.
#pragma once

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>
#include <string>

#include "core/base/result.h"
#include "core/rework/conversion.h"

namespace eh::cli {

struct ConversionQuestion {
    std::string source_label = "5V 3A, 9V 3A, 15V 3A, 20V 3.25A";  // as printed on charger or power bank
    double input_limit_volts = 0.0;                                // 0: not known
    double cable_gauge = 24.0;
    ConvertedMachine machine;
    ConversionParts parts;
};

// The subcommand with an option for each value of the question; what is not given stays as the page has it.
CLI::App* add_conversion(CLI::App& app, ConversionQuestion& question);

// Verdict, what a meter should show, notes and what to check. Refuses labels that cannot be read and values
// that no machine has.
Result<nlohmann::json> plan_conversion(const ConversionQuestion& question);

}  // namespace eh::cli
