// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/lines.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <istream>
#include <string>

#include "core/base/text.h"

namespace eh {
namespace {

constexpr std::size_t chunk_bytes = 1U << 20U;
constexpr std::size_t longest_line_bytes = 1U << 16U;
constexpr std::size_t encoding_sample_bytes = 256;

}  // namespace

Lines::Lines(std::istream& file) : file_(file), buffer_(chunk_bytes) {}

bool Lines::next(std::string_view& line) {
    for (;;) {
        const char* first = buffer_.data() + at_;
        const char* last = buffer_.data() + filled_;
        const char* end = std::find(first, last, '\n');
        const bool too_long = end == last && filled_ - at_ >= longest_line_bytes;
        if (end != last || too_long || (ended_ && first != last)) {
            line = {first, static_cast<std::size_t>(end - first)};
            at_ = static_cast<std::size_t>(end - buffer_.data()) + (end != last ? 1 : 0);
            if (!line.empty() && line.back() == '\r')
                line.remove_suffix(1);
            return true;
        }
        if (ended_)
            return false;
        refill();
    }
}

bool Lines::next_lines(std::string_view& lines) {
    for (;;) {
        const std::string_view at_hand(buffer_.data() + at_, filled_ - at_);
        const std::size_t last_end = at_hand.rfind('\n');
        const bool whole = last_end != std::string_view::npos;
        const bool too_long = !whole && at_hand.size() >= longest_line_bytes;
        if (whole || too_long || (ended_ && !at_hand.empty())) {
            lines = whole ? at_hand.substr(0, last_end + 1) : at_hand;
            at_ += lines.size();
            return true;
        }
        if (ended_)
            return false;
        refill();
    }
}

void Lines::refill() {
    std::copy(buffer_.begin() + static_cast<std::ptrdiff_t>(at_),
              buffer_.begin() + static_cast<std::ptrdiff_t>(filled_), buffer_.begin());
    filled_ -= at_;
    at_ = 0;
    if (refills_ == 0)
        find_encoding();
    const std::size_t got = utf16_ ? read_utf16(filled_) : read_plain(filled_);
    filled_ += got;
    ended_ = got == 0;
    ++refills_;
}

void Lines::find_encoding() {
    std::array<char, encoding_sample_bytes> first{};
    file_.read(first.data(), static_cast<std::streamsize>(first.size()));
    const std::string_view sample(first.data(), static_cast<std::size_t>(file_.gcount()));
    read_ += sample.size();
    if (const auto order = utf16_order(sample)) {
        utf16_ = std::make_unique<Utf16Decoder>(*order);
        bytes_a_letter_ = 2;
        std::string text;
        utf16_->decode(sample, text);
        filled_ =
            static_cast<std::size_t>(std::copy(text.begin(), text.end(), buffer_.begin()) - buffer_.begin());
        return;
    }
    const std::string_view text = without_byte_order_mark(sample);
    filled_ =
        static_cast<std::size_t>(std::copy(text.begin(), text.end(), buffer_.begin()) - buffer_.begin());
}

std::size_t Lines::read_plain(std::size_t at) {
    file_.read(buffer_.data() + at, static_cast<std::streamsize>(buffer_.size() - at));
    const auto got = static_cast<std::size_t>(file_.gcount());
    read_ += got;
    return got;
}

// Two bytes become three at most, so a third of the room is asked for.
std::size_t Lines::read_utf16(std::size_t at) {
    std::string raw((buffer_.size() - at) / 3, '\0');
    std::string text;
    while (text.empty()) {
        file_.read(raw.data(), static_cast<std::streamsize>(raw.size()));
        const auto got = static_cast<std::size_t>(file_.gcount());
        if (got == 0)
            break;
        read_ += got;
        utf16_->decode(std::string_view(raw).substr(0, got), text);
    }
    std::copy(text.begin(), text.end(), buffer_.begin() + static_cast<std::ptrdiff_t>(at));
    return text.size();
}

std::optional<double> take_number(std::string_view& text) {
    const char* first = text.data();
    const char* last = first + text.size();
    double number = 0.0;
    const auto [rest, problem] = std::from_chars(first, last, number);
    if (problem != std::errc() || !std::isfinite(number))
        return std::nullopt;
    text.remove_prefix(static_cast<std::size_t>(rest - first));
    return number;
}

}  // namespace eh
