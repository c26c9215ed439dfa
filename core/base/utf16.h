// SPDX-License-Identifier: GPL-3.0-or-later
// Text in UTF-16, as some programs export it, into UTF-8.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace eh {

enum class Utf16Order : std::uint8_t { little, big };

// Which byte comes first, when these first bytes of a file are UTF-16: by the byte-order mark, else because
// nearly every second byte is 0, as in plain letters. nullopt for any other text.
std::optional<Utf16Order> utf16_order(std::string_view first_bytes);

// The text behind the byte-order mark of UTF-8, where it stands at the start.
std::string_view without_byte_order_mark(std::string_view text);

// Takes the bytes in pieces of any length. What is no UTF-16 (half of a surrogate pair) becomes U+FFFD.
class Utf16Decoder {
  public:
    explicit Utf16Decoder(Utf16Order order) : order_(order) {}
    // Appends what the bytes say; what is not whole yet waits for the next piece.
    void decode(std::string_view bytes, std::string& text);

  private:
    void take(std::uint32_t unit, std::string& text);

    Utf16Order order_;
    std::optional<unsigned char> odd_byte_;
    std::uint32_t high_surrogate_ = 0;  // 0 when none waits
    bool begun_ = false;
};

}  // namespace eh
