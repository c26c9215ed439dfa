// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as bench instruments answer them (SCPI-99, 7.2.1.4 and 7.2.1.5).
#pragma once

#include <optional>
#include <string_view>

namespace eh {

// A number of an answer, blanks around it left out; infinity for SCPI's 9.9E37 (over the range), nullopt for
// what is none and for SCPI's 9.91E37 (not a number). Decimal point whatever the locale.
std::optional<double> parse_scpi_number(std::string_view text);

}  // namespace eh
