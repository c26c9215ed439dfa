// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/usbc/value_change_dump.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <map>
#include <optional>
#include <ostream>
#include <string_view>

#include "core/base/text.h"

namespace eh::pd {
namespace {

constexpr std::size_t most_wires = 64;
constexpr std::string_view blanks = " \t";

// The next word of a line, which is taken off it; empty at its end.
std::string_view take_word(std::string_view& line) {
    const std::size_t from = line.find_first_not_of(blanks);
    if (from == std::string_view::npos) {
        line = {};
        return {};
    }
    line.remove_prefix(from);
    const std::string_view word = line.substr(0, line.find_first_of(blanks));
    line.remove_prefix(word.size());
    return word;
}

struct Wire {
    std::string id;
    std::string name;
};

// What stands before the values: time scale and wires. Words may be spread over lines as they like.
class VcdHeader {
  public:
    // Takes one word; true when the definitions are over.
    Result<bool> word(std::string_view text, const std::string& place) {
        if (text == "$end") {
            const Outcome closed = close(place);
            section_.clear();
            words_.clear();
            if (!closed)
                return closed.error();
            return over_;
        }
        if (section_.empty()) {
            if (text.front() == '$')
                section_ = text;
        } else if (words_.size() < most_words) {
            words_.emplace_back(text);
        }
        return false;
    }

    [[nodiscard]] double tick_s() const { return tick_s_; }
    [[nodiscard]] const std::vector<Wire>& wires() const { return wires_; }

  private:
    static constexpr std::size_t most_words = 64;

    Outcome close(const std::string& place) {
        if (section_ == "$enddefinitions")
            over_ = true;
        else if (section_ == "$timescale")
            return read_scale(place);
        else if (section_ == "$var" && words_.size() >= 4 && words_[1] == "1" && wires_.size() < most_wires)
            wires_.push_back({words_[2], as_utf8(words_[3])});
        return Done{};
    }

    Outcome read_scale(const std::string& place) {
        std::string text;
        for (const std::string& word : words_)
            text += word;
        double number = 0.0;
        const auto [rest, problem] = std::from_chars(text.data(), text.data() + text.size(), number);
        const std::string unit = text.substr(static_cast<std::size_t>(rest - text.data()));
        constexpr std::array<std::pair<std::string_view, double>, 6> units{
            {{"s", 1.0}, {"ms", 1e-3}, {"us", 1e-6}, {"ns", 1e-9}, {"ps", 1e-12}, {"fs", 1e-15}}};
        const auto* known =
            std::find_if(units.begin(), units.end(), [&](const auto& each) { return each.first == unit; });
        if (problem != std::errc() || known == units.end() || !(number > 0.0) || !std::isfinite(number))
            return refused("the time scale " + in_quotes(text) +
                               " cannot be read; it should be a number and a unit from s to fs, like 1 ns",
                           place);
        tick_s_ = number * known->second;
        return Done{};
    }

    std::string section_;
    std::vector<std::string> words_;
    std::vector<Wire> wires_;
    double tick_s_ = 0.0;
    bool over_ = false;
};

// Which wire an id means. Ids are of few letters as a rule, so those of one are looked up in a table.
class WireNumbers {
  public:
    explicit WireNumbers(const std::vector<Wire>& wires) {
        short_.fill(none);
        for (std::size_t i = 0; i < wires.size(); ++i) {
            const std::string& id = wires[i].id;
            if (id.size() == 1)
                short_[static_cast<unsigned char>(id.front())] = i;
            else
                long_.emplace(id, i);
        }
    }
    static constexpr std::size_t none = most_wires;
    [[nodiscard]] std::size_t of(std::string_view id) const {
        if (id.size() == 1)
            return short_[static_cast<unsigned char>(id.front())];
        const auto found = long_.find(id);
        return found == long_.end() ? none : found->second;
    }

  private:
    std::array<std::size_t, 256> short_{};
    std::map<std::string, std::size_t, std::less<>> long_;
};

// The values behind the head: times and changes, in any number on a line.
class VcdBody {
  public:
    VcdBody(WireReaders& readers, const std::vector<Wire>& wires, double tick_s)
        : readers_(readers), numbers_(wires), tick_s_(tick_s) {}

    // Takes whole lines. Where time goes back: how far it came; nullopt when it did not.
    std::optional<std::size_t> take(std::string_view text) {
        const char* const begin = text.data();
        const char* const end = begin + text.size();
        const char* at = begin;
        while (at != end) {
            const char mark = *at++;
            if (is_blank(mark))
                continue;
            const char* const word = at;
            if (mark == '#') {
                const auto ticks = take_ticks(at, end);
                if (ticks && *ticks < tick_)
                    return static_cast<std::size_t>(word - begin);
                if (ticks)
                    time(*ticks);
                else
                    ++odd_;
                continue;
            }
            while (at != end && !is_blank(*at))
                ++at;
            const std::string_view rest(word, static_cast<std::size_t>(at - word));
            if (mark == '0' || mark == '1') {
                const std::size_t wire = numbers_.of(rest);
                if (wire != WireNumbers::none)
                    readers_.level(wire, mark == '1', now_s_);
            } else if (mark == 'b' || mark == 'B' || mark == 'r' || mark == 'R') {
                at = std::find(at, end, '\n');  // a vector or a real number, and its wire
            } else if (mark != '$' && mark != 'x' && mark != 'X' && mark != 'z' && mark != 'Z') {
                ++odd_;
            }
        }
        return std::nullopt;
    }
    [[nodiscard]] double seconds() const { return any_ ? now_s_ - first_s_ : 0.0; }
    [[nodiscard]] std::uint64_t odd() const { return odd_; }

  private:
    static bool is_blank(char letter) {
        return letter == '\n' || letter == ' ' || letter == '\r' || letter == '\t';
    }

    // The number up to the next blank, behind which `at` is then; nullopt when none stands there. Half of a
    // dump is such numbers, and they are digits alone: counted while they are looked at.
    static std::optional<std::uint64_t> take_ticks(const char*& at, const char* end) {
        constexpr std::ptrdiff_t most_digits = 19;  // fit whatever they are
        const char* const first = at;
        std::uint64_t ticks = 0;
        for (; at != end && *at >= '0' && *at <= '9'; ++at)
            ticks = 10 * ticks + static_cast<std::uint64_t>(*at - '0');
        const bool digits = at != first && at - first <= most_digits && (at == end || is_blank(*at));
        while (at != end && !is_blank(*at))
            ++at;
        return digits ? std::optional(ticks) : std::nullopt;
    }

    void time(std::uint64_t ticks) {
        tick_ = ticks;
        now_s_ = static_cast<double>(tick_) * tick_s_;
        if (!any_)
            first_s_ = now_s_;
        any_ = true;
    }

    WireReaders& readers_;
    WireNumbers numbers_;
    double tick_s_;
    std::uint64_t tick_ = 0;
    std::uint64_t odd_ = 0;
    double now_s_ = 0.0;
    double first_s_ = 0.0;
    bool any_ = false;
};

// Reads up to the end of the definitions; counts the lines that took.
Result<VcdHeader> read_header(Lines& lines, const std::string& name, std::uint64_t& number,
                              std::string_view& rest) {
    VcdHeader header;
    bool defined = false;
    while (!defined && lines.next(rest)) {
        ++number;
        for (std::string_view word = take_word(rest); !defined && !word.empty();) {
            const auto over = header.word(word, name + ", line " + integer_text(number));
            if (!over)
                return over.error();
            defined = *over;
            if (!defined)
                word = take_word(rest);
        }
    }
    if (!defined || header.tick_s() <= 0.0)
        return refused(
            "this is no value-change dump: its head with $timescale and $enddefinitions is missing", name);
    if (header.wires().empty())
        return refused("this capture holds no wire of one bit; record the CC line as a digital channel",
                       name);
    return header;
}

}  // namespace

Result<CapturePass> read_value_changes(std::istream& file, const std::string& name,
                                       const CaptureOptions& options) {
    Lines lines(file);
    Supervision supervision(lines, options);
    std::uint64_t number = 0;
    std::string_view line;
    const auto header = read_header(lines, name, number, line);
    if (!header)
        return header.error();
    std::vector<std::string> names;
    for (const Wire& wire : header->wires())
        names.push_back(wire.name);
    CapturePass pass;
    pass.time_unit_s = options.time_unit_s.value_or(header->tick_s());
    pass.unit_is_known = true;
    WireReaders readers(names);
    VcdBody body(readers, header->wires(), pass.time_unit_s);
    bool at_head = true;
    // What stands behind the head on its last line, then the rest.
    do {
        if (!supervision.goes_on())
            return reading_stopped(name);
        if (const auto came = body.take(line)) {
            const auto before =
                std::count(line.begin(), line.begin() + static_cast<std::ptrdiff_t>(*came), '\n');
            return time_goes_back(name, number + static_cast<std::uint64_t>(before));
        }
        number += static_cast<std::uint64_t>(std::count(line.begin(), line.end(), '\n'));
        number += at_head ? 1 : 0;
        at_head = false;
    } while (lines.next_lines(line));
    auto capture = readers.finish(name, options);
    if (!capture)
        return capture.error();
    pass.capture = std::move(capture).value();
    pass.capture.report.seconds = body.seconds();
    pass.capture.report.odd_lines = body.odd();
    pass.half_bit_s = readers.half_bit_s();
    return pass;
}

void write_vcd(std::ostream& file, const std::vector<double>& edges, double end_s) {
    constexpr double tick_s = 1e-8;
    const auto ticks = [&](double t_s) { return static_cast<std::uint64_t>(std::llround(t_s / tick_s)); };
    file << "$timescale 10 ns $end\n$scope module usbc $end\n$var wire 1 ! cc1 $end\n$upscope $end\n"
            "$enddefinitions $end\n#0\n0!\n";
    bool high = false;
    for (const double edge : edges) {
        high = !high;
        file << '#' << ticks(edge) << '\n' << (high ? '1' : '0') << "!\n";
    }
    file << '#' << ticks(end_s) << '\n';
}

}  // namespace eh::pd
