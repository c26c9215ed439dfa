// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/resistor_marking.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

#include "core/base/lines.h"
#include "core/base/text.h"
#include "core/parts/preferred_values.h"

namespace eh {
namespace {

constexpr double exact = 5e-4;
constexpr std::array<std::pair<char, double>, 8> eia96_decades{
    {{'Y', 0.01}, {'X', 0.1}, {'A', 1.0}, {'B', 10.0}, {'C', 100.0}, {'D', 1e3}, {'E', 1e4}, {'F', 1e5}}};

bool same(double a, double b) {
    return std::abs(a - b) <= exact * std::abs(b);
}

// Of digits with a point; 0 for none.
double decimal(std::string_view digits) {
    return take_number(digits).value_or(0.0);
}

std::optional<double> digits_value(const std::string& text) {
    if (!std::all_of(text.begin(), text.end(), [](unsigned char c) { return std::isdigit(c) != 0; }))
        return std::nullopt;
    const int exponent = text.back() - '0';
    return decimal(text.substr(0, text.size() - 1)) * std::pow(10.0, exponent);
}

std::optional<double> eia96_value(const std::string& text) {
    if (text.size() != 3 || std::isdigit(static_cast<unsigned char>(text[0])) == 0 ||
        std::isdigit(static_cast<unsigned char>(text[1])) == 0)
        return std::nullopt;
    const int code = std::stoi(text.substr(0, 2));
    // Older prints write S for X and R for Y.
    const char letter = text[2] == 'S' ? 'X' : text[2] == 'R' ? 'Y' : text[2];
    if (code < 1 || code > 96)
        return std::nullopt;
    for (const auto& [name, factor] : eia96_decades)
        if (name == letter)
            return decade(Series::e96)[static_cast<std::size_t>(code - 1)] * 100.0 * factor;
    return std::nullopt;
}

// IEC 60062: the letter stands in the place of the decimal point. L is printed for milliohm.
std::optional<double> letter_value(const std::string& text) {
    constexpr std::array<std::pair<char, double>, 5> letters{
        {{'L', 1e-3}, {'R', 1.0}, {'K', 1e3}, {'M', 1e6}, {'G', 1e9}}};
    const auto place =
        std::find_if(text.begin(), text.end(), [](unsigned char c) { return std::isalpha(c); });
    if (place == text.end())
        return std::nullopt;
    const auto factor = std::find_if(letters.begin(), letters.end(),
                                     [&](const auto& entry) { return entry.first == *place; });
    std::string number(text.begin(), place);
    const std::string after(place + 1, text.end());
    const auto is_number = [](const std::string& part) {
        return std::all_of(part.begin(), part.end(), [](unsigned char c) { return std::isdigit(c) != 0; });
    };
    if (factor == letters.end() || !is_number(number) || !is_number(after) || (number + after).empty())
        return std::nullopt;
    return decimal("0" + number + "." + after + "0") * factor->second;
}

std::string letter_text(double ohms) {
    constexpr std::array<std::pair<char, double>, 4> letters{
        {{'G', 1e9}, {'M', 1e6}, {'k', 1e3}, {'R', 1.0}}};
    const auto chosen = std::find_if(letters.begin(), letters.end(), [&](const auto& entry) {
        return ohms >= entry.second * (1.0 - exact) || entry.first == 'R';
    });
    std::string number = machine_number("%.4g", ohms / chosen->second);
    const auto point = number.find('.');
    if (point == std::string::npos)
        return number + chosen->first;
    number[point] = chosen->first;
    return number;
}

std::optional<std::string> digits_text(double ohms, int significant) {
    const double least = std::pow(10.0, significant - 1);
    double mantissa = ohms;
    int exponent = 0;
    while (mantissa >= least * 10.0 * (1.0 - exact) && exponent < 9) {
        mantissa /= 10.0;
        ++exponent;
    }
    if (!same(std::round(mantissa), mantissa) || std::round(mantissa) < least)
        return std::nullopt;
    return integer_text(std::lround(mantissa)) + integer_text(exponent);
}

std::optional<std::string> eia96_text(double ohms) {
    for (const auto& [letter, factor] : eia96_decades) {
        const auto& values = decade(Series::e96);
        for (std::size_t i = 0; i < values.size(); ++i) {
            if (!same(values[i] * 100.0 * factor, ohms))
                continue;
            const std::string code = integer_text(i + 1);
            return (code.size() == 1 ? "0" + code : code) + letter;
        }
    }
    return std::nullopt;
}

}  // namespace

std::string describe(MarkingScheme scheme) {
    switch (scheme) {
        case MarkingScheme::three_digits:
            return "three digits";
        case MarkingScheme::four_digits:
            return "four digits";
        case MarkingScheme::letter:
            return "letter for the point";
        case MarkingScheme::eia96:
            return "EIA-96";
    }
    return {};
}

Result<std::vector<MarkingMeaning>> read_marking(std::string_view marking) {
    std::string text;
    for (const char c : marking)
        if (std::isspace(static_cast<unsigned char>(c)) == 0)
            text += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    std::vector<MarkingMeaning> meanings;
    const bool link = !text.empty() && text.size() <= 4 && text.find_first_not_of('0') == std::string::npos;
    if (link)
        return std::vector<MarkingMeaning>{{MarkingScheme::three_digits, 0.0, std::nullopt}};
    if (text.size() == 3)
        if (const auto ohms = digits_value(text))
            meanings.push_back({MarkingScheme::three_digits, *ohms, 0.05});
    if (text.size() == 4)
        if (const auto ohms = digits_value(text))
            meanings.push_back({MarkingScheme::four_digits, *ohms, 0.01});
    // "10R" is ten ohm to everybody, though old EIA-96 prints had an R too.
    if (const auto ohms = letter_value(text))
        meanings.push_back({MarkingScheme::letter, *ohms, std::nullopt});
    if (const auto ohms = eia96_value(text))
        meanings.push_back({MarkingScheme::eia96, *ohms, 0.01});
    if (meanings.empty())
        return refused(
            "no resistor is printed so; write three or four digits (472, 4701), a letter for the point (4k7, "
            "R047) or two digits and a letter (01A)",
            "“" + std::string(marking.substr(0, 20)) + "”");
    return meanings;
}

std::optional<std::string> write_marking(double ohms, MarkingScheme scheme) {
    if (!(ohms > 0.0 && ohms < 1e11))
        return std::nullopt;
    switch (scheme) {
        case MarkingScheme::three_digits:
            return digits_text(ohms, 2);
        case MarkingScheme::four_digits:
            return digits_text(ohms, 3);
        case MarkingScheme::letter:
            return letter_text(ohms);
        case MarkingScheme::eia96:
            return eia96_text(ohms);
    }
    return std::nullopt;
}

}  // namespace eh
