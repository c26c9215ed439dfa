// SPDX-License-Identifier: GPL-3.0-or-later
// Money as it is typed. No currency: a shop has one.
#pragma once

#include <optional>
#include <string>

#include "core/base/result.h"

namespace eh {

// "120", "89,50" or "" (no amount). Refuses anything else, negative amounts and amounts above a million, with
// a sentence whose place is `field`.
Result<std::optional<double>> parse_amount(const std::string& text, const std::string& field);

// With two decimals, "" for no amount; parse_amount reads it back.
std::string format_amount(const std::optional<double>& amount);

}  // namespace eh
