// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/utf16.h"

#include <algorithm>

namespace eh {
namespace {

constexpr std::string_view utf8_mark = "\xEF\xBB\xBF";
constexpr std::uint32_t byte_order_mark = 0xFEFF;
constexpr std::uint32_t replacement = 0xFFFD;

void append_utf8(std::uint32_t code, std::string& text) {
    const auto tail = [&](unsigned shift) { text += static_cast<char>(0x80U | (code >> shift & 0x3FU)); };
    if (code < 0x80) {
        text += static_cast<char>(code);
    } else if (code < 0x800) {
        text += static_cast<char>(0xC0U | code >> 6U);
        tail(0);
    } else if (code < 0x10000) {
        text += static_cast<char>(0xE0U | code >> 12U);
        tail(6);
        tail(0);
    } else {
        text += static_cast<char>(0xF0U | code >> 18U);
        tail(12);
        tail(6);
        tail(0);
    }
}

}  // namespace

std::optional<Utf16Order> utf16_order(std::string_view first_bytes) {
    if (first_bytes.starts_with("\xFF\xFE"))
        return Utf16Order::little;
    if (first_bytes.starts_with("\xFE\xFF"))
        return Utf16Order::big;
    // Without a mark: letters and digits are a 0 beside a byte that is none. Bytes of samples may hold as
    // many zeros, but not beside letters alone.
    constexpr std::size_t fewest_bytes = 8;
    if (first_bytes.size() < fewest_bytes)
        return std::nullopt;
    std::size_t pairs = 0;
    std::size_t little = 0;
    std::size_t big = 0;
    const auto is_letter = [](char byte) {
        return (byte >= 0x20 && byte < 0x7F) || byte == '\t' || byte == '\n' || byte == '\r';
    };
    for (std::size_t i = 0; i + 1 < first_bytes.size(); i += 2, ++pairs) {
        little += is_letter(first_bytes[i]) && first_bytes[i + 1] == 0 ? 1 : 0;
        big += first_bytes[i] == 0 && is_letter(first_bytes[i + 1]) ? 1 : 0;
    }
    const std::size_t nearly_all = pairs - pairs / 8;
    if (little >= nearly_all)
        return Utf16Order::little;
    if (big >= nearly_all)
        return Utf16Order::big;
    return std::nullopt;
}

std::string_view without_byte_order_mark(std::string_view text) {
    if (text.starts_with(utf8_mark))
        text.remove_prefix(utf8_mark.size());
    return text;
}

void Utf16Decoder::decode(std::string_view bytes, std::string& text) {
    for (const char byte : bytes) {
        const auto second = static_cast<unsigned char>(byte);
        if (!odd_byte_) {
            odd_byte_ = second;
            continue;
        }
        const std::uint32_t first = *odd_byte_;
        odd_byte_.reset();
        take(order_ == Utf16Order::little ? first | second << 8U : first << 8U | second, text);
    }
}

void Utf16Decoder::take(std::uint32_t unit, std::string& text) {
    const bool at_start = !begun_;
    begun_ = true;
    if (at_start && unit == byte_order_mark)
        return;
    const bool is_high = unit >= 0xD800 && unit < 0xDC00;
    const bool is_low = unit >= 0xDC00 && unit < 0xE000;
    if (high_surrogate_ != 0 && is_low) {
        append_utf8(0x10000 + ((high_surrogate_ - 0xD800) << 10U) + (unit - 0xDC00), text);
        high_surrogate_ = 0;
        return;
    }
    if (high_surrogate_ != 0)
        append_utf8(replacement, text);
    high_surrogate_ = is_high ? unit : 0;
    if (!is_high)
        append_utf8(is_low ? replacement : unit, text);
}

}  // namespace eh
