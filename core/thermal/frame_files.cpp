// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/thermal/frame_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <deque>
#include <iterator>
#include <optional>
#include <sstream>
#include <string_view>

#include "core/base/files.h"
#include "core/base/lines.h"
#include "core/base/text.h"
#include "core/thermal/frame_notes.h"
#include "core/thermal/png_counts.h"

namespace eh {
namespace {

constexpr int most_side = 8192;
constexpr std::size_t most_head = 4096;  // bytes before a PGM's pixels
constexpr std::string_view guessed_scale =
    ": the picture does not say what its values mean; hundredths of a kelvin were taken";

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

Result<PgmHead> read_pgm_head(std::string_view text) {
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
            head.notes += std::string(text.substr(at + 1, end - at));
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

// Collects the frames of a file: of one size, the latest when they do not all fit.
class FrameKeeper {
  public:
    FrameKeeper(std::string name, std::size_t most_bytes) : name_(std::move(name)), most_bytes_(most_bytes) {}

    void take(ThermalFrame frame, const std::string& place) {
        if (!frames_.empty() && !frame.same_size(frames_.front())) {
            remark(place + ": a frame of " + integer_text(frame.width) + " x " + integer_text(frame.height) +
                   " among frames of " + integer_text(frames_.front().width) + " x " +
                   integer_text(frames_.front().height) + " was left out");
            return;
        }
        const std::size_t room =
            std::max<std::size_t>(1, most_bytes_ / std::max<std::size_t>(1, bytes_of(frame)));
        frames_.push_back(std::move(frame));
        for (; frames_.size() > room; ++gone_)
            frames_.pop_front();
    }
    void remark(std::string sentence) {
        if (remarks_.size() < most_remarks)
            remarks_.push_back(std::move(sentence));
    }
    [[nodiscard]] bool empty() const { return frames_.empty(); }
    FrameFile file() {
        FrameFile file;
        file.remarks = std::move(remarks_);
        if (gone_ > 0)
            file.remarks.push_back(name_ + ": only the last " + integer_text(frames_.size()) +
                                   " frames were kept; " + integer_text(gone_) + " before them do not fit");
        file.frames.assign(std::make_move_iterator(frames_.begin()), std::make_move_iterator(frames_.end()));
        return file;
    }

  private:
    static constexpr std::size_t most_remarks = 100;
    std::string name_;
    std::size_t most_bytes_;
    std::deque<ThermalFrame> frames_;
    std::vector<std::string> remarks_;
    std::size_t gone_ = 0;
};

// A matrix of numbers between comments and empty lines.
class CsvFrames {
  public:
    CsvFrames(FrameKeeper& keeper, const std::string& name) : keeper_(keeper), name_(name) {}

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
                keeper_.take(std::move(frame_), line_place(name_, first_line_));
            else
                keeper_.remark(bad_);
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

    FrameKeeper& keeper_;
    const std::string& name_;
    ThermalFrame frame_;
    std::string notes_;
    std::string bad_;
    std::uint64_t first_line_ = 0;
};

}  // namespace

// True when a frame was whole and is taken.
Result<bool> PgmStream::take_one() {
    // Whitespace between frames.
    read_ = std::min(waiting_.find_first_not_of(" \t\r\n", read_), waiting_.size());
    const std::string_view rest = std::string_view(waiting_).substr(read_);
    if (rest.size() < 2)
        return false;
    const auto head = read_pgm_head(rest.substr(0, most_head + 1));
    if (!head)
        return head.error();
    const std::size_t pixels = static_cast<std::size_t>(head->width) * static_cast<std::size_t>(head->height);
    if (!head->whole || rest.size() < head->bytes + 2 * pixels)
        return false;
    CountPicture picture{head->width, head->height, {}, head->notes};
    picture.counts.reserve(pixels);
    for (std::size_t i = 0; i < pixels; ++i) {
        const auto high = static_cast<unsigned char>(rest[head->bytes + 2 * i]);
        const auto low = static_cast<unsigned char>(rest[head->bytes + 2 * i + 1]);
        picture.counts.push_back(static_cast<std::uint16_t>(high << 8U | low));
    }
    frames_.push_back(frame_of(picture, scale_, guessed_scale_));
    read_ += head->bytes + 2 * pixels;
    return true;
}

Outcome PgmStream::feed(const char* bytes, std::size_t count) {
    waiting_.erase(0, read_);
    read_ = 0;
    waiting_.append(bytes, count);
    for (;;) {
        const auto taken = take_one();
        if (!taken)
            return taken.error();
        if (!*taken)
            return Done{};
    }
}

namespace {

Error stopped(const std::string& name) {
    return Error{ErrorKind::unavailable, "the reading was stopped", name};
}

Result<FrameFile> read_one_png(std::istream& file, const std::string& name, const FrameReading& how) {
    constexpr std::size_t most_png_bytes = 64U << 20U;
    std::string bytes(most_png_bytes + 1, '\0');
    file.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    bytes.resize(static_cast<std::size_t>(file.gcount()));
    if (bytes.size() > most_png_bytes)
        return refused("this picture is longer than 64 MB", name);
    auto picture = read_png(bytes);
    if (!picture)
        return refused(picture.error().message, name);
    FrameFile read;
    bool guessed = false;
    read.frames.push_back(frame_of(*picture, how.scale, guessed));
    if (guessed)
        read.remarks.push_back(name + std::string(guessed_scale));
    return read;
}

Result<FrameFile> read_pgms(std::istream& file, const std::string& name, const FrameReading& how) {
    constexpr std::size_t piece_bytes = 1U << 20U;
    FrameKeeper keeper(name, how.most_bytes);
    PgmStream stream(how.scale);
    std::string piece(piece_bytes, '\0');
    std::uint64_t read_bytes = 0;
    int number = 0;
    Outcome fed = Done{};
    while (fed && file) {
        file.read(piece.data(), static_cast<std::streamsize>(piece.size()));
        const auto got = static_cast<std::size_t>(file.gcount());
        fed = stream.feed(piece.data(), got);
        for (ThermalFrame& frame : stream.frames())
            keeper.take(std::move(frame), name + ", frame " + integer_text(++number));
        stream.frames().clear();
        read_bytes += got;
        if (how.progress && !how.progress(read_bytes))
            return stopped(name);
    }
    if (keeper.empty())
        return refused(fed ? "the file is cut: its first frame is not whole" : fed.error().message, name);
    if (!fed || stream.in_the_middle())
        keeper.remark(name + ": after frame " + integer_text(number) +
                      " the file is cut or holds something else; the rest was left out");
    if (stream.guessed_scale())
        keeper.remark(name + std::string(guessed_scale));
    return keeper.file();
}

Result<FrameFile> read_matrices(std::istream& file, const std::string& name, const FrameReading& how) {
    FrameKeeper keeper(name, how.most_bytes);
    CsvFrames frames(keeper, name);
    Lines lines(file);
    std::string_view line;
    std::uint64_t number = 0;
    std::uint64_t refills = 0;
    while (lines.next(line)) {
        if (how.progress && refills != lines.refills() && !how.progress(lines.bytes()))
            return stopped(name);
        refills = lines.refills();
        frames.line(line, ++number);
    }
    frames.finish();
    const bool none = keeper.empty();
    FrameFile read = keeper.file();
    if (none && !read.remarks.empty())
        return refused(read.remarks.front());
    if (none)
        return refused(
            "no frame is in here; a thermal frame is a CSV matrix of degrees Celsius, or a 16-bit PGM or PNG",
            name);
    return read;
}

}  // namespace

std::size_t bytes_of(const ThermalFrame& frame) {
    return sizeof(ThermalFrame) + frame.celsius.size() * sizeof(float);
}

std::size_t keep_latest(std::vector<ThermalFrame>& frames, std::size_t most_bytes) {
    std::size_t bytes = 0;
    auto first = frames.end();
    while (first != frames.begin() &&
           (first == frames.end() || bytes + bytes_of(*std::prev(first)) <= most_bytes))
        bytes += bytes_of(*--first);
    const auto gone = static_cast<std::size_t>(first - frames.begin());
    frames.erase(frames.begin(), first);
    return gone;
}

Result<FrameFile> read_frames(std::istream& file, const std::string& name, const FrameReading& how) {
    constexpr std::size_t head_bytes = 16;
    std::string head(head_bytes, '\0');
    file.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(file.gcount()));
    file.clear();
    file.seekg(0);
    if (is_png(head))
        return read_one_png(file, name, how);
    return head.starts_with("P5") ? read_pgms(file, name, how) : read_matrices(file, name, how);
}

Result<FrameFile> read_frames(const std::string& bytes, const std::string& name, const FrameReading& how) {
    std::istringstream file(bytes);
    return read_frames(file, name, how);
}

Result<FrameFile> read_frame_file(const std::string& path, const FrameReading& how) {
    auto file = open_for_reading(path);
    if (!file)
        return file.error();
    return read_frames(**file, path, how);
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
