#include "core/base/lines.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <istream>

namespace eh {
namespace {

constexpr std::size_t chunk_bytes = 1U << 20U;
constexpr std::size_t longest_line_bytes = 1U << 16U;

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

void Lines::refill() {
    std::copy(buffer_.begin() + static_cast<std::ptrdiff_t>(at_),
              buffer_.begin() + static_cast<std::ptrdiff_t>(filled_), buffer_.begin());
    filled_ -= at_;
    at_ = 0;
    file_.read(buffer_.data() + filled_, static_cast<std::streamsize>(buffer_.size() - filled_));
    const auto got = static_cast<std::size_t>(file_.gcount());
    filled_ += got;
    read_ += got;
    ended_ = got == 0;
    ++refills_;
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
