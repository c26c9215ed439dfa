#include "core/usbc/value_change_dump.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <map>
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

    // False when time goes back.
    bool line(std::string_view text) {
        while (!text.empty()) {
            const char mark = text.front();
            if (mark == ' ' || mark == '\t') {
                text.remove_prefix(1);
                continue;
            }
            std::string_view word = text.substr(1, text.find_first_of(blanks) - 1);
            text.remove_prefix(word.size() + 1);
            if (mark == '#') {
                if (!time(word))
                    return false;
            } else if (mark == '0' || mark == '1') {
                const std::size_t wire = numbers_.of(word);
                if (wire != WireNumbers::none)
                    readers_.level(wire, mark == '1', now_s_);
            } else if (mark == 'b' || mark == 'B' || mark == 'r' || mark == 'R') {
                return true;  // a vector or a real number, and its wire
            } else if (mark != '$' && mark != 'x' && mark != 'X' && mark != 'z' && mark != 'Z') {
                ++odd_;
            }
        }
        return true;
    }
    [[nodiscard]] double seconds() const { return any_ ? now_s_ - first_s_ : 0.0; }
    [[nodiscard]] std::uint64_t odd() const { return odd_; }

  private:
    bool time(std::string_view word) {
        std::uint64_t next = 0;
        const auto [rest, problem] = std::from_chars(word.data(), word.data() + word.size(), next);
        if (problem != std::errc()) {
            ++odd_;
            return true;
        }
        if (next < tick_)
            return false;
        tick_ = next;
        now_s_ = static_cast<double>(tick_) * tick_s_;
        if (!any_)
            first_s_ = now_s_;
        any_ = true;
        return true;
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
    do {
        if (!supervision.goes_on())
            return reading_stopped(name);
        if (!body.line(line))
            return time_goes_back(name, number);
        ++number;
    } while (lines.next(line));
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
