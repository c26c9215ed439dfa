#include "core/thermal/frame_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <optional>
#include <sstream>

#include "core/base/lines.h"
#include "core/base/text.h"
#include "core/thermal/frame_notes.h"
#include "core/thermal/png_counts.h"

namespace eh {
namespace {

constexpr int most_side = 8192;
constexpr std::size_t most_head = 4096;  // bytes before a PGM's pixels

std::string line_place(const std::string& name, std::uint64_t line) {
    return name + ", line " + integer_text(line);
}

ThermalFrame frame_of(const CountPicture& picture, const ThermalScale& usual, bool& guessed) {
    const FrameNotes notes = read_notes(picture.notes);
    guessed = guessed || !notes.scale;
    const ThermalScale scale = notes.scale.value_or(usual);
    ThermalFrame frame{picture.width, picture.height, {}, notes.t_s, notes.powered};
    frame.celsius.reserve(picture.counts.size());
    for (const std::uint16_t count : picture.counts)
        frame.celsius.push_back(
            static_cast<float>(scale.celsius_at_zero + scale.celsius_per_count * static_cast<double>(count)));
    return frame;
}

// The head of a PGM: its numbers, with comments kept. `at` is behind it when all of it was there.
struct PgmHead {
    int width = 0;
    int height = 0;
    int most = 0;
    std::string notes;
    std::size_t bytes = 0;
    bool whole = false;
};

Result<PgmHead> read_pgm_head(const std::string& text) {
    PgmHead head;
    if (text.size() >= 2 && text.compare(0, 2, "P5") != 0)
        return refused("this is no binary greyscale picture (PGM, beginning with P5)");
    std::size_t at = 2;
    for (int* const number : {&head.width, &head.height, &head.most}) {
        for (;;) {
            while (at < text.size() && std::isspace(static_cast<unsigned char>(text[at])) != 0)
                ++at;
            if (at >= text.size() || text[at] != '#')
                break;
            const std::size_t end = text.find('\n', at);
            if (end == std::string::npos)
                break;
            head.notes += text.substr(at + 1, end - at);
            at = end + 1;
        }
        const char* const first = text.data() + std::min(at, text.size());
        const auto [next, error] = std::from_chars(first, text.data() + text.size(), *number);
        if (text.size() > most_head && (error != std::errc() || next == text.data() + text.size()))
            return refused("the head of this picture holds what is no number");
        if (at >= text.size() || text[at] == '#' || next == text.data() + text.size())
            return head;  // more is to come
        if (error != std::errc())
            return refused("the head of this picture holds what is no number");
        at = static_cast<std::size_t>(next - text.data());
    }
    if (std::isspace(static_cast<unsigned char>(text[at])) == 0)
        return refused("the head of this picture does not end as it should");
    if (head.width < 1 || head.height < 1 || head.width > most_side || head.height > most_side)
        return refused("a picture of " + integer_text(head.width) + " x " + integer_text(head.height) +
                       " pixels is no thermal frame");
    if (head.most < 256 || head.most > 65535)
        return refused("this picture has 8 bits a pixel; a thermal frame needs 16 (highest value 65535)");
    head.bytes = at + 1;
    head.whole = true;
    return head;
}

// Drops a frame of another size than the first; says so.
void take_frame(FrameFile& file, ThermalFrame frame, const std::string& place) {
    if (!file.frames.empty() && !frame.same_size(file.frames.front())) {
        file.remarks.push_back(place + ": a frame of " + integer_text(frame.width) + " x " +
                               integer_text(frame.height) + " among frames of " +
                               integer_text(file.frames.front().width) + " x " +
                               integer_text(file.frames.front().height) + " was left out");
        return;
    }
    file.frames.push_back(std::move(frame));
}

// A matrix of numbers between comments and empty lines.
class CsvFrames {
  public:
    CsvFrames(FrameFile& file, const std::string& name) : file_(file), name_(name) {}

    void line(std::string_view text, std::uint64_t number) {
        if (text.empty() || text.front() == '#') {
            finish();
            if (!text.empty())
                notes_ += std::string(text.substr(1)) + "\n";
            return;
        }
        if (frame_.height == 0)
            first_line_ = number;
        const std::size_t before = frame_.celsius.size();
        const bool numbers = read_row(text);
        const auto columns = static_cast<int>(frame_.celsius.size() - before);
        if (frame_.height == 0)
            frame_.width = columns;
        ++frame_.height;
        if (!bad_.empty())
            return;
        if (!numbers)
            bad_ = line_place(name_, number) + ": a value here is no number; its frame was left out";
        else if (columns != frame_.width)
            bad_ = line_place(name_, number) + ": " + integer_text(columns) +
                   " columns where the frame has " + integer_text(frame_.width) + "; it was left out";
        else if (frame_.width > most_side || frame_.height > most_side)
            bad_ = line_place(name_, number) + ": too large for a thermal frame; it was left out";
    }

    void finish() {
        if (frame_.height > 0) {
            const FrameNotes notes = read_notes(notes_);
            frame_.t_s = notes.t_s;
            frame_.powered = notes.powered;
            if (bad_.empty())
                take_frame(file_, std::move(frame_), line_place(name_, first_line_));
            else
                file_.remarks.push_back(bad_);
            notes_.clear();
        }
        frame_ = {};
        bad_.clear();
    }

  private:
    bool read_row(std::string_view text) {
        while (true) {
            while (!text.empty() && (text.front() == ' ' || text.front() == '"'))
                text.remove_prefix(1);
            const auto value = take_number(text);
            if (!value || std::abs(*value) > 5000.0)
                return false;
            if (bad_.empty())
                frame_.celsius.push_back(static_cast<float>(*value));
            while (!text.empty() && (text.front() == ' ' || text.front() == '"'))
                text.remove_prefix(1);
            if (text.empty())
                return true;
            if (text.front() != ',' && text.front() != ';' && text.front() != '\t')
                return false;
            text.remove_prefix(1);
            if (text.empty())
                return true;  // a separator at the end
        }
    }

    FrameFile& file_;
    const std::string& name_;
    ThermalFrame frame_;
    std::string notes_;
    std::string bad_;
    std::uint64_t first_line_ = 0;
};

}  // namespace

Outcome PgmStream::feed(const char* bytes, std::size_t count) {
    waiting_.append(bytes, count);
    while (!waiting_.empty()) {
        // Whitespace between frames.
        const std::size_t start = waiting_.find_first_not_of(" \t\r\n");
        waiting_.erase(0, std::min(start, waiting_.size()));
        if (waiting_.size() < 2)
            break;
        const auto head = read_pgm_head(waiting_.substr(0, most_head + 1));
        if (!head)
            return head.error();
        const std::size_t pixels =
            static_cast<std::size_t>(head->width) * static_cast<std::size_t>(head->height);
        if (!head->whole || waiting_.size() < head->bytes + 2 * pixels)
            break;
        CountPicture picture{head->width, head->height, {}, head->notes};
        picture.counts.reserve(pixels);
        for (std::size_t i = 0; i < pixels; ++i) {
            const auto high = static_cast<unsigned char>(waiting_[head->bytes + 2 * i]);
            const auto low = static_cast<unsigned char>(waiting_[head->bytes + 2 * i + 1]);
            picture.counts.push_back(static_cast<std::uint16_t>(high << 8U | low));
        }
        frames_.push_back(frame_of(picture, scale_, guessed_scale_));
        waiting_.erase(0, head->bytes + 2 * pixels);
    }
    return Done{};
}

Result<FrameFile> read_frames(const std::string& bytes, const std::string& name, const ThermalScale& scale) {
    FrameFile file;
    bool guessed = false;
    if (is_png(bytes)) {
        auto picture = read_png(bytes);
        if (!picture)
            return refused(picture.error().message, name);
        file.frames.push_back(frame_of(*picture, scale, guessed));
    } else if (bytes.compare(0, 2, "P5") == 0) {
        PgmStream stream(scale);
        const auto read = stream.feed(bytes.data(), bytes.size());
        int number = 0;
        for (ThermalFrame& frame : stream.frames())
            take_frame(file, std::move(frame), name + ", frame " + integer_text(++number));
        if (!read && file.frames.empty())
            return refused(read.error().message, name);
        if (!read || stream.in_the_middle())
            file.remarks.push_back(name + ": after frame " + integer_text(number) +
                                   " the file is cut or holds something else; the rest was left out");
        guessed = stream.guessed_scale();
    } else {
        std::istringstream text(bytes);
        Lines lines(text);
        CsvFrames frames(file, name);
        std::string_view line;
        std::uint64_t number = 0;
        while (lines.next(line))
            frames.line(line, ++number);
        frames.finish();
        if (file.frames.empty())
            return refused(
                file.remarks.empty()
                    ? "no frame is in here; a thermal frame is a CSV matrix of degrees Celsius, or a "
                      "16-bit PGM or PNG"
                    : file.remarks.front(),
                file.remarks.empty() ? name : "");
    }
    if (guessed)
        file.remarks.push_back(name + ": the picture does not say what its values mean; " +
                               "hundredths of a kelvin were taken");
    return file;
}

namespace {

CountPicture counts_of(const ThermalFrame& frame, const ThermalScale& scale) {
    CountPicture picture{frame.width, frame.height, {}, write_notes({frame.t_s, frame.powered, scale})};
    picture.counts.reserve(frame.celsius.size());
    for (const float celsius : frame.celsius) {
        const double count = std::round((double{celsius} - scale.celsius_at_zero) / scale.celsius_per_count);
        picture.counts.push_back(static_cast<std::uint16_t>(std::clamp(count, 0.0, 65535.0)));
    }
    return picture;
}

}  // namespace

std::string write_pgm(const ThermalFrame& frame, const ThermalScale& scale) {
    const CountPicture picture = counts_of(frame, scale);
    std::string text = "P5\n";
    std::istringstream notes(picture.notes);
    for (std::string note; std::getline(notes, note);)
        text += "# " + note + "\n";
    text += integer_text(frame.width) + " " + integer_text(frame.height) + "\n65535\n";
    for (const std::uint16_t count : picture.counts) {
        text += static_cast<char>(count >> 8U);
        text += static_cast<char>(count & 0xFFU);
    }
    return text;
}

std::string write_png(const ThermalFrame& frame, const ThermalScale& scale) {
    return png_of(counts_of(frame, scale));
}

std::string write_frame_csv(const std::vector<ThermalFrame>& frames) {
    std::string text;
    for (const ThermalFrame& frame : frames) {
        std::istringstream notes(write_notes({frame.t_s, frame.powered, std::nullopt}));
        for (std::string note; std::getline(notes, note);)
            text += "# " + note + "\n";
        for (int y = 0; y < frame.height; ++y) {
            for (int x = 0; x < frame.width; ++x) {
                fmt::format_to(std::back_inserter(text), "{}{:.3f}", x > 0 ? "," : "", frame.at(x, y));
            }
            text += '\n';
        }
        text += '\n';
    }
    return text;
}

}  // namespace eh
