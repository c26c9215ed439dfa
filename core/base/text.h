// SPDX-License-Identifier: GPL-3.0-or-later
// Small texts that many parts of the core make.
//
// Numbers are written in two ways. For people: number_text() and its kind, with the decimal mark that the
// program's user reads (shown_decimal_mark). For files, instruments and other programs: machine_number(),
// always with a point. Neither asks the C library's locale.
#pragma once

#include <concepts>
#include <cstddef>
#include <string>
#include <string_view>

namespace eh {

// The decimal mark of numbers for people, '.' until a program says otherwise. The one setting of the core
// that belongs to the whole process: sentences are made everywhere, and one screen must not show two marks.
// Set once at start, before other threads run. Requires '.' or ','.
[[nodiscard]] char shown_decimal_mark();
void set_shown_decimal_mark(char mark);

// One number in a printf format of one double: number_text("%.3g V", 19.53) is "19.5 V". Cut to 63 bytes.
[[nodiscard]] std::string number_text(const char* format, double value);
// As number_text(), always with a decimal point: for what a program reads.
[[nodiscard]] std::string machine_number(const char* format, double value);
// Without decimals: "217".
[[nodiscard]] std::string whole_text(double value);
// A share in whole per cent: "37 %".
[[nodiscard]] std::string percent_text(double share);
// A whole number in digits. Not for doubles: they would go through the C library's locale.
[[nodiscard]] std::string integer_text(std::integral auto value) {
    return std::to_string(value);
}

// Capitals of A to Z as small letters; other bytes stay, so UTF-8 stays whole.
[[nodiscard]] std::string lower_case(std::string_view text);

// Whether the bytes are UTF-8 as RFC 3629 has it: no overlong forms, no surrogates, nothing above U+10FFFF.
[[nodiscard]] bool is_utf8(std::string_view bytes);
// The bytes where they are UTF-8; UTF-16 as utf16_order() knows it; else read as Latin-1 (ISO 8859-1), of
// which every byte is a letter, so that nothing is lost. The result is UTF-8 always.
[[nodiscard]] std::string as_utf8(std::string_view bytes);
// The first `most_bytes` bytes at most, cut between characters, with "…" behind what was cut.
[[nodiscard]] std::string shortened(std::string_view text, std::size_t most_bytes);
// A text for a terminal: UTF-8, at most 4,000 bytes, control characters but line ends as a space, so that
// what an error quotes from a file moves no cursor and sets no title.
[[nodiscard]] std::string printable(std::string_view text);
// A text from outside as it stands in a sentence: “so”, at most 60 bytes, bytes that are no UTF-8 as Latin-1,
// control characters as a space.
[[nodiscard]] std::string in_quotes(std::string_view text);

}  // namespace eh
