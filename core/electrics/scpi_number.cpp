// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/scpi_number.h"

#include <cmath>
#include <limits>

#include "core/base/lines.h"

namespace eh {
namespace {

// SCPI-99, 7.2.1.4 and 7.2.1.5: 9.9E37 infinity, 9.91E37 none; a last place may be lost on the way.
constexpr double infinity_from = 9.85e37;
constexpr double none_from = 9.905e37;
constexpr std::string_view blanks = " \t\r\n";

}  // namespace

std::optional<double> parse_scpi_number(std::string_view text) {
    const std::size_t first = text.find_first_not_of(blanks);
    if (first == std::string_view::npos)
        return std::nullopt;
    text = text.substr(first, text.find_last_not_of(blanks) - first + 1);
    if (text.starts_with('+') && !text.starts_with("+-"))
        text.remove_prefix(1);
    const auto value = take_number(text);
    if (!value || !text.empty() || std::abs(*value) >= none_from)
        return std::nullopt;
    if (std::abs(*value) >= infinity_from)
        return std::copysign(std::numeric_limits<double>::infinity(), *value);
    return value;
}

}  // namespace eh
