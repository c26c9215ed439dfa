// SPDX-License-Identifier: GPL-3.0-or-later
// Large text files line by line, in memory that does not grow with them.
#pragma once

#include <cstdint>
#include <iosfwd>
#include <memory>
#include <optional>
#include <string_view>
#include <vector>

#include "core/base/utf16.h"

namespace eh {

// Hands over a stream line by line, without its ends (LF or CRLF). A line lives until the next one. A
// byte-order mark at the start is dropped, and UTF-16 with or without one is handed over as UTF-8; bytes of
// any other kind come as they are.
class Lines {
  public:
    explicit Lines(std::istream& file);

    // False at the end. A last line without its end counts; a line beyond all measure is handed over in
    // parts.
    bool next(std::string_view& line);
    // As many whole lines as are at hand, their ends with them: for files of very many short lines, of which
    // calling next() for each would take most of the time. False at the end. A last line may lack its end;
    // one beyond all measure is handed over in parts.
    bool next_lines(std::string_view& lines);
    // Bytes of the file that the lines handed over so far took, to a few.
    [[nodiscard]] std::uint64_t bytes() const { return read_ - bytes_a_letter_ * (filled_ - at_); }
    // How often the file was asked for more: a measure to look at a clock or a stop button by.
    [[nodiscard]] std::uint64_t refills() const { return refills_; }

  private:
    void refill();
    std::size_t read_plain(std::size_t at);
    std::size_t read_utf16(std::size_t at);
    void find_encoding();

    std::istream& file_;
    std::vector<char> buffer_;
    std::unique_ptr<Utf16Decoder> utf16_;  // where the file is written so
    std::uint64_t bytes_a_letter_ = 1;
    std::size_t at_ = 0;
    std::size_t filled_ = 0;
    std::uint64_t read_ = 0;
    std::uint64_t refills_ = 0;
    bool ended_ = false;
};

// The finite number at the start of a text, decimal point whatever the locale; moves the text behind it.
// nullopt when none stands there.
std::optional<double> take_number(std::string_view& text);

}  // namespace eh
