// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.h"

#include <fmt/printf.h>

#include <algorithm>
#include <atomic>
#include <cassert>
#include <cstdint>

#include "core/base/utf16.h"

namespace eh {
namespace {

constexpr std::size_t longest_number = 63;
constexpr std::size_t longest_quoted = 60;
constexpr std::size_t longest_printed = 4000;

std::atomic<char> decimal_mark{'.'};

// How many bytes the character at the front takes; 0 where the bytes there are no UTF-8 (RFC 3629, section
// 4).
std::size_t character_bytes(std::string_view bytes) {
    const auto at = [&](std::size_t i) { return static_cast<unsigned char>(bytes[i]); };
    const unsigned char first = at(0);
    if (first < 0x80)
        return 1;
    const std::size_t size = first >= 0xF0 ? 4 : first >= 0xE0 ? 3 : 2;
    if (first < 0xC2 || first > 0xF4 || bytes.size() < size)
        return 0;
    for (std::size_t i = 1; i < size; ++i) {
        if ((at(i) & 0xC0U) != 0x80)
            return 0;
    }
    const unsigned char second = at(1);
    const bool overlong = (first == 0xE0 && second < 0xA0) || (first == 0xF0 && second < 0x90);
    const bool surrogate = first == 0xED && second > 0x9F;
    const bool beyond = first == 0xF4 && second > 0x8F;
    return overlong || surrogate || beyond ? 0 : size;
}

}  // namespace

char shown_decimal_mark() {
    return decimal_mark;
}

void set_shown_decimal_mark(char mark) {
    assert(mark == '.' || mark == ',');
    decimal_mark = mark;
}

std::string machine_number(const char* format, double value) {
    std::string text = fmt::sprintf(format, value);
    if (text.size() > longest_number)
        text.resize(longest_number);
    return text;
}

std::string number_text(const char* format, double value) {
    std::string text = machine_number(format, value);
    // The mark stands between digits; points of a sentence around the number do not.
    for (std::size_t i = 1; i + 1 < text.size() && decimal_mark != '.'; ++i) {
        const auto digit = [&](std::size_t at) { return text[at] >= '0' && text[at] <= '9'; };
        if (text[i] == '.' && digit(i - 1) && digit(i + 1)) {
            text[i] = decimal_mark;
            break;
        }
    }
    return text;
}

std::string whole_text(double value) {
    return number_text("%.0f", value);
}

std::string percent_text(double share) {
    return number_text("%.0f %%", 100.0 * share);
}

std::string lower_case(std::string_view text) {
    std::string lower(text);
    for (char& c : lower) {
        if (c >= 'A' && c <= 'Z')
            c = static_cast<char>(c - 'A' + 'a');
    }
    return lower;
}

bool is_utf8(std::string_view bytes) {
    while (!bytes.empty()) {
        const std::size_t size = character_bytes(bytes);
        if (size == 0)
            return false;
        bytes.remove_prefix(size);
    }
    return true;
}

std::string as_utf8(std::string_view bytes) {
    std::string text;
    if (const auto order = utf16_order(bytes.substr(0, 256))) {
        Utf16Decoder(*order).decode(bytes, text);
        return text;
    }
    if (is_utf8(bytes))
        return std::string(bytes);
    for (const char byte : bytes) {
        const auto code = static_cast<unsigned char>(byte);
        if (code < 0x80) {
            text += byte;
        } else {
            text += static_cast<char>(0xC0U | (code >> 6U));
            text += static_cast<char>(0x80U | (code & 0x3FU));
        }
    }
    return text;
}

std::string shortened(std::string_view text, std::size_t most_bytes) {
    if (text.size() <= most_bytes)
        return std::string(text);
    std::size_t end = most_bytes;
    while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xC0U) == 0x80)
        --end;
    return std::string(text.substr(0, end)) + "…";
}

std::string printable(std::string_view text) {
    std::string shown = shortened(as_utf8(text), longest_printed);
    for (std::size_t i = 0; i < shown.size(); ++i) {
        const auto byte = static_cast<unsigned char>(shown[i]);
        if ((byte < 0x20 && shown[i] != '\n') || byte == 0x7F)
            shown[i] = ' ';
        // U+0080 to U+009F are control characters, too: as UTF-8 C2 80 to C2 9F.
        const auto next = i + 1 < shown.size() ? static_cast<unsigned char>(shown[i + 1]) : 0;
        if (byte == 0xC2 && next >= 0x80 && next <= 0x9F)
            shown[i] = shown[i + 1] = ' ';
    }
    return shown;
}

std::string in_quotes(std::string_view text) {
    std::string shown = printable(shortened(as_utf8(text), longest_quoted));
    std::replace(shown.begin(), shown.end(), '\n', ' ');
    return "“" + shown + "”";
}

}  // namespace eh
