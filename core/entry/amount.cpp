// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/entry/amount.h"

#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr double highest_amount = 1e6;

}  // namespace

Result<std::optional<double>> parse_amount(const std::string& text, const std::string& field) {
    if (text.find_first_not_of(" \t") == std::string::npos)
        return std::optional<double>();
    const auto parsed = parse_quantity(text);
    if (!parsed || parsed->unit != Unit::none || parsed->over_limit || parsed->value < 0.0 ||
        parsed->value > highest_amount)
        return refused("“" + text + "” is not an amount; write for instance 120 or 89,50.", field);
    return std::optional<double>(parsed->value);
}

std::string format_amount(const std::optional<double>& amount) {
    if (!amount)
        return {};
    return number_text("%.2f", *amount);
}

}  // namespace eh
