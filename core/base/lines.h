// Large text files line by line, in memory that does not grow with them.
#pragma once

#include <cstdint>
#include <iosfwd>
#include <optional>
#include <string_view>
#include <vector>

namespace eh {

// Hands over a stream line by line, without its ends (LF or CRLF). A line lives until the next one.
class Lines {
  public:
    explicit Lines(std::istream& file);

    // False at the end. A last line without its end counts; a line beyond all measure is handed over in
    // parts.
    bool next(std::string_view& line);
    [[nodiscard]] std::uint64_t bytes() const { return read_ - (filled_ - at_); }
    // How often the file was asked for more: a measure to look at a clock or a stop button by.
    [[nodiscard]] std::uint64_t refills() const { return refills_; }

  private:
    void refill();

    std::istream& file_;
    std::vector<char> buffer_;
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
