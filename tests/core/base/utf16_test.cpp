// SPDX-License-Identifier: GPL-3.0-or-later
// UTF-16 into UTF-8 (RFC 2781, RFC 3629), in pieces of every length.
#include <catch2/catch.hpp>
#include <cstdint>
#include <sstream>

#include "core/base/lines.h"
#include "core/base/text.h"
#include "core/base/utf16.h"

using namespace eh;

namespace {

std::string decoded(const std::string& bytes, Utf16Order order, std::size_t piece) {
    Utf16Decoder decoder(order);
    std::string text;
    for (std::size_t at = 0; at < bytes.size(); at += piece)
        decoder.decode(std::string_view(bytes).substr(at, piece), text);
    return text;
}

}  // namespace

TEST_CASE("UTF-16 is read in pieces of any length, surrogate pairs among it", "[base][utf16]") {
    // "aµ€" and U+10437, the worked example of RFC 2781, section 3.
    const std::string little(
        "\xFF\xFE"
        "a\0\xB5\0\xAC\x20\x01\xD8\x37\xDC",
        12);
    const std::string big("\xFE\xFF\0a\0\xB5\x20\xAC\xD8\x01\xDC\x37", 12);
    for (std::size_t piece = 1; piece <= little.size(); ++piece) {
        CHECK(decoded(little, Utf16Order::little, piece) == "aµ€\xF0\x90\x90\xB7");
        CHECK(decoded(big, Utf16Order::big, piece) == "aµ€\xF0\x90\x90\xB7");
    }
    CHECK(is_utf8(decoded(std::string("\x01\xD8"
                                      "a\0\x37\xDC",
                                      6),
                          Utf16Order::little, 2)));
}

TEST_CASE("UTF-16 is known by its mark or its zeros, and nothing else is taken for it", "[base][utf16]") {
    CHECK(utf16_order("\xFF\xFE") == Utf16Order::little);
    CHECK(utf16_order("\xFE\xFF") == Utf16Order::big);
    CHECK(utf16_order(std::string_view("t\0i\0m\0e\0,\0", 10)) == Utf16Order::little);
    CHECK(utf16_order(std::string_view("\0t\0i\0m\0e\0,", 10)) == Utf16Order::big);
    CHECK_FALSE(utf16_order("time,volts"));
    CHECK_FALSE(utf16_order(std::string_view("\0\0\0\0\0\0\0\0\0\0", 10)));
    CHECK_FALSE(utf16_order(std::string_view("\1\0\1\0\1\0\1\0\1\0", 10)));  // samples of one wire
    CHECK(as_utf8(std::string_view("\xFF\xFEh\0i\0", 6)) == "hi");
}

TEST_CASE("lines come without byte-order marks, long files in UTF-16 whole", "[base][lines]") {
    std::string bytes = "\xFF\xFE";
    constexpr int count = 200'000;
    for (int i = 0; i < count; ++i) {
        for (const char letter : std::to_string(i) + "\r\n") {
            bytes += letter;
            bytes += '\0';
        }
    }
    std::istringstream file(bytes);
    Lines lines(file);
    std::string_view line;
    int next = 0;
    while (lines.next(line))
        REQUIRE(line == std::to_string(next++));
    CHECK(next == count);
    CHECK(lines.bytes() + 8 >= bytes.size());
    std::istringstream marked("\xEF\xBB\xBFone\ntwo");
    Lines two(marked);
    REQUIRE(two.next(line));
    CHECK(line == "one");
    CHECK(two.next(line));
    CHECK(line == "two");
    CHECK_FALSE(two.next(line));
}

TEST_CASE("lines handed over many at a time are the same lines", "[base][lines]") {
    std::string text;
    for (std::int64_t i = 0; i < 300'000; ++i)
        text += std::to_string(i * 7919) + (i % 3 == 0 ? "\r\n" : "\n");
    text += "the last one lacks its end";
    for (const char* form : {"plain", "with a line beyond all measure"}) {
        if (form[0] == 'w')
            text = std::string(3 << 20, 'x') + "\n" + text;
        std::istringstream file(text);
        Lines lines(file);
        std::string all;
        std::string_view some;
        std::size_t calls = 0;
        while (lines.next_lines(some)) {
            all += some;
            ++calls;
        }
        CHECK(all == text);
        CHECK(calls < 100);
    }
    // One way may follow the other.
    std::istringstream file("head\n1\n2\n3\n");
    Lines lines(file);
    std::string_view line;
    REQUIRE(lines.next(line));
    CHECK(line == "head");
    REQUIRE(lines.next_lines(line));
    CHECK(line == "1\n2\n3\n");
    CHECK_FALSE(lines.next_lines(line));
}
