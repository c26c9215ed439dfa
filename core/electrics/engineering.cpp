// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrics/engineering.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>
#include <optional>

#include "core/base/text.h"

namespace eh {
namespace {

struct UnitLimits {
    Unit unit;
    double lowest;
    double highest;
    const char* sentence;
};

// What can occur on a notebook's bench; beyond it the entry is a slip of the finger.
constexpr std::array<UnitLimits, 8> bench_limits{{
    {Unit::volts, -1000.0, 1000.0, "volts lie between -1000 and 1000 on this bench"},
    {Unit::amps, -100.0, 100.0, "amps lie between -100 and 100 on this bench"},
    {Unit::ohms, 0.0, 1e9, "a resistance is not negative and at most 1 GΩ; write OL for an open line"},
    {Unit::watts, 0.0, 1000.0, "watts lie between 0 and 1000 on this bench"},
    {Unit::kelvin, -300.0, 1000.0, "a temperature rise lies between -300 and 1000 K"},
    {Unit::celsius, -100.0, 1000.0, "a temperature lies between -100 and 1000 °C"},
    {Unit::seconds, 0.0, 1e7, "a time is not negative and at most some months"},
    {Unit::farads, 0.0, 10.0, "a capacitance is not negative and at most 10 F"},
}};

std::string lower_trimmed(std::string_view text) {
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front())))
        text.remove_prefix(1);
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back())))
        text.remove_suffix(1);
    return std::string(text);
}

bool is_digit(char c) {
    return c >= '0' && c <= '9';
}

// The digits of a number, before a prefix or unit; `rest` receives what follows.
std::optional<double> leading_number(std::string_view text, std::string_view& rest) {
    std::string digits;
    std::size_t i = 0;
    if (i < text.size() && (text[i] == '-' || text[i] == '+')) {
        if (text[i] == '-')
            digits += '-';
        ++i;
    }
    int marks = 0;
    int digit_count = 0;
    for (; i < text.size(); ++i) {
        if (is_digit(text[i])) {
            digits += text[i];
            ++digit_count;
        } else if ((text[i] == '.' || text[i] == ',') && marks == 0) {
            digits += '.';
            ++marks;
        } else {
            break;
        }
    }
    if (digit_count == 0)
        return std::nullopt;
    // An exponent counts only when digits follow it, so that "5 e" is no number.
    if (i + 1 < text.size() && (text[i] == 'e' || text[i] == 'E')) {
        std::size_t j = i + 1;
        if (text[j] == '-' || text[j] == '+')
            ++j;
        if (j < text.size() && is_digit(text[j])) {
            digits += 'e';
            for (std::size_t k = i + 1; k < j; ++k)
                digits += text[k];
            while (j < text.size() && is_digit(text[j]))
                digits += text[j++];
            i = j;
        }
    }
    double value = 0.0;
    const auto outcome = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (outcome.ec != std::errc{} || !std::isfinite(value))
        return std::nullopt;
    rest = text.substr(i);
    return value;
}

struct Suffix {
    double factor;
    Unit unit;
};

std::optional<Unit> unit_from(std::string_view text) {
    const std::string lower = lower_case(text);
    if (lower.empty())
        return Unit::none;
    if (lower == "v" || lower == "volt" || lower == "volts")
        return Unit::volts;
    if (lower == "a" || lower == "amp" || lower == "amps")
        return Unit::amps;
    if (lower == "w" || lower == "watt" || lower == "watts")
        return Unit::watts;
    if (lower == "ohm" || lower == "ohms" || lower == "r" || text == "Ω" || text == "Ω")
        return Unit::ohms;
    if (text == "K" || lower == "kelvin")
        return Unit::kelvin;
    if (lower == "c" || lower == "°c")
        return Unit::celsius;
    if (lower == "s")
        return Unit::seconds;
    if (lower == "f")
        return Unit::farads;
    return std::nullopt;
}

std::optional<double> prefix_factor(std::string_view& text) {
    if (text.empty())
        return 1.0;
    for (const std::string_view micro : {"µ", "μ"}) {
        if (text.substr(0, micro.size()) == micro) {
            text.remove_prefix(micro.size());
            return 1e-6;
        }
    }
    const char c = text.front();
    const auto take = [&](double factor) {
        text.remove_prefix(1);
        return factor;
    };
    switch (c) {
        case 'p':
            return take(1e-12);
        case 'n':
            return take(1e-9);
        case 'u':
            return take(1e-6);
        case 'm':
            return take(1e-3);
        case 'k':
        case 'K':
            return take(1e3);
        case 'M':
            return take(1e6);
        case 'G':
            return take(1e9);
        default:
            return std::nullopt;
    }
}

// Prefix and unit after a number. "4k" alone is ohms, since nobody writes kilovolts here.
std::optional<Suffix> parse_suffix(std::string_view text) {
    if (const auto unit = unit_from(text))
        return Suffix{1.0, *unit};
    std::string_view rest = text;
    const auto factor = prefix_factor(rest);
    if (!factor)
        return std::nullopt;
    const auto unit = unit_from(rest);
    if (!unit)
        return std::nullopt;
    const bool bare_ohms_prefix = rest.empty() && *factor >= 1e3;
    return Suffix{*factor, bare_ohms_prefix ? Unit::ohms : *unit};
}

// IEC 60062 letter code: digits, letter in place of the decimal point, digits ("3r3", "0R22", "4k7").
std::optional<Quantity> parse_letter_code(std::string_view text) {
    const auto letter = text.find_first_not_of("0123456789");
    if (letter == std::string_view::npos || letter == 0 || letter + 1 >= text.size())
        return std::nullopt;
    const auto fraction = text.substr(letter + 1);
    if (fraction.find_first_not_of("0123456789") != std::string_view::npos)
        return std::nullopt;
    double factor = 1.0;
    Unit unit = Unit::ohms;
    switch (text[letter]) {
        case 'r':
        case 'R':
            break;
        case 'k':
        case 'K':
            factor = 1e3;
            break;
        case 'M':
            factor = 1e6;
            break;
        case 'm':
            factor = 1e-3;
            break;
        case 'v':
        case 'V':
            unit = Unit::volts;
            break;
        default:
            return std::nullopt;
    }
    const std::string digits = std::string(text.substr(0, letter)) + "." + std::string(fraction);
    double value = 0.0;
    const auto outcome = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (outcome.ec != std::errc{})
        return std::nullopt;
    return Quantity{value * factor, unit, false};
}

}  // namespace

std::string_view symbol(Unit unit) {
    switch (unit) {
        case Unit::none:
            return "";
        case Unit::volts:
            return "V";
        case Unit::amps:
            return "A";
        case Unit::ohms:
            return "Ω";
        case Unit::watts:
            return "W";
        case Unit::kelvin:
            return "K";
        case Unit::celsius:
            return "°C";
        case Unit::seconds:
            return "s";
        case Unit::farads:
            return "F";
    }
    return "";
}

Result<Quantity> parse_quantity(std::string_view text) {
    const std::string trimmed = lower_trimmed(text);
    if (trimmed.empty())
        return refused("a number is missing here; write for instance 5.1, 3r3, 140 mA or OL");
    const std::string lower = lower_case(trimmed);
    if (lower == "ol" || lower == "o.l" || lower == "open")
        return Quantity{0.0, Unit::ohms, true};
    if (const auto code = parse_letter_code(trimmed))
        return *code;
    std::string_view rest;
    const auto number = leading_number(trimmed, rest);
    if (!number)
        return refused(in_quotes(trimmed) + " is not a number; write for instance 5.1, 3r3, 140 mA or OL");
    while (!rest.empty() && rest.front() == ' ')
        rest.remove_prefix(1);
    const auto suffix = parse_suffix(rest);
    if (!suffix)
        return refused(in_quotes(rest) +
                       " after the number is not a unit known here; use V, A, Ω, W, K or °C");
    return Quantity{*number * suffix->factor, suffix->unit, false};
}

Outcome check_plausible(double value, Unit unit, const std::string& place) {
    if (!std::isfinite(value))
        return refused("the value is not a finite number; type it again", place);
    for (const auto& limits : bench_limits) {
        if (limits.unit != unit)
            continue;
        if (value < limits.lowest || value > limits.highest) {
            return refused(number_text("%.6g ", value) + std::string(symbol(unit)) +
                               " cannot be right: " + limits.sentence,
                           place);
        }
    }
    return Done{};
}

Result<Quantity> parse_quantity_as(std::string_view text, Unit unit) {
    auto parsed = parse_quantity(text);
    if (!parsed)
        return parsed;
    Quantity quantity = *parsed;
    if (quantity.over_limit && unit != Unit::ohms)
        return refused("OL is an ohmmeter's reading; here a value in " + std::string(symbol(unit)) +
                       " is wanted");
    // "+30k" for a rise would be read as kilo-ohms; a bare capital K after a rise is kelvin already.
    if (quantity.unit == Unit::none)
        quantity.unit = unit;
    if (quantity.unit != unit)
        return refused("a value in " + std::string(symbol(quantity.unit)) +
                       " does not fit here; this reading is in " + std::string(symbol(unit)));
    if (!quantity.over_limit) {
        if (auto plausible = check_plausible(quantity.value, unit, {}); !plausible)
            return plausible.error();
    }
    return quantity;
}

std::string format_quantity(double value, Unit unit, int digits) {
    if (!std::isfinite(value))
        return "–";
    struct Prefix {
        double factor;
        const char* text;
    };
    constexpr std::array<Prefix, 8> prefixes{
        {{1e9, "G"}, {1e6, "M"}, {1e3, "k"}, {1.0, ""}, {1e-3, "m"}, {1e-6, "µ"}, {1e-9, "n"}, {1e-12, "p"}}};
    const bool plain = unit == Unit::none || unit == Unit::kelvin || unit == Unit::celsius ||
                       unit == Unit::seconds || (unit == Unit::volts && std::abs(value) >= 0.1);
    const double magnitude = std::abs(value);
    Prefix chosen{1.0, ""};
    if (!plain && magnitude >= 1e-15) {
        // Rounding may carry into the next prefix (999.6 mA is 1.00 A), so decide on the rounded value.
        const double exponent = std::floor(std::log10(magnitude));
        const double step = std::pow(10.0, exponent - digits + 1);
        const double rounded = std::round(magnitude / step) * step;
        chosen = prefixes.back();
        for (const auto& prefix : prefixes) {
            if (rounded >= prefix.factor * (1.0 - 1e-12)) {
                chosen = prefix;
                break;
            }
        }
    }
    const double scaled = value / chosen.factor;
    int decimals = digits - 1;
    if (std::abs(scaled) >= 1e-15)
        decimals = digits - 1 - static_cast<int>(std::floor(std::log10(std::abs(scaled)) + 1e-9));
    decimals = std::clamp(decimals, 0, std::max(0, digits - 1));
    const std::string format = "%." + integer_text(decimals) + "f";
    std::string text = number_text(format.c_str(), scaled);
    const std::string tail = std::string(chosen.text) + std::string(symbol(unit));
    return tail.empty() ? text : text + " " + tail;
}

}  // namespace eh
