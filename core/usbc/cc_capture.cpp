#include "core/usbc/cc_capture.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <istream>
#include <optional>
#include <ostream>
#include <string_view>

#include "core/base/lines.h"
#include "core/base/text.h"

namespace eh::pd {
namespace {

// Asks and tells the caller once a chunk. False when the reading shall end.
class Supervision {
  public:
    Supervision(const Lines& lines, const CaptureOptions& options) : lines_(lines), options_(options) {}
    bool goes_on() {
        if (seen_ == lines_.refills())
            return true;
        seen_ = lines_.refills();
        if (options_.progress)
            options_.progress(lines_.bytes());
        return !options_.stop || !options_.stop();
    }

  private:
    const Lines& lines_;
    const CaptureOptions& options_;
    std::uint64_t seen_ = 0;
};

// The two lines with a reader each.
class LinePair {
  public:
    explicit LinePair(const std::function<void(SeenFrame)>& found)
        : readers_{FrameReader([&found](Frame frame) {
                       found({std::move(frame), 1});
                   }),
                   FrameReader([&found](Frame frame) {
                       found({std::move(frame), 2});
                   })} {}

    // The line (0 or 1) is at this level at t_s; counts the change if it is one.
    void level(std::size_t line, bool high, double t_s) {
        if (levels_[line] == (high ? 1 : 0))
            return;
        const bool known = levels_[line] >= 0;
        levels_[line] = high ? 1 : 0;
        if (!known)
            return;
        ++edges_;
        readers_[line].edge(t_s);
    }
    void finish() {
        for (FrameReader& reader : readers_)
            reader.finish();
    }
    [[nodiscard]] std::uint64_t edges() const { return edges_; }

  private:
    std::array<FrameReader, 2> readers_;
    std::array<int, 2> levels_{-1, -1};
    std::uint64_t edges_ = 0;
};

struct Wire {
    std::string id;
    std::string name;
    int bits = 1;
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
        if (section_.empty() && !text.empty() && text.front() == '$')
            section_ = text;
        else if (words_.size() < most_words)
            words_.emplace_back(text);
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
        else if (section_ == "$var" && words_.size() >= 4) {
            int bits = 0;
            std::from_chars(words_[1].data(), words_[1].data() + words_[1].size(), bits);
            wires_.push_back({words_[2], words_[3], bits});
        }
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
        if (problem != std::errc() || known == units.end() || !(number > 0.0))
            return refused("the time scale “" + text +
                               "” cannot be read; it should be a number and a unit from s to fs, like 1 ns",
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

// The ids of the wires that are CC1 and CC2; an empty one is not there.
Result<std::array<std::string, 2>> choose_wires(const VcdHeader& header, const CaptureOptions& options,
                                                const std::string& file) {
    const auto named = [&](const std::string& name) -> std::optional<std::string> {
        for (const Wire& wire : header.wires()) {
            if (wire.name == name)
                return wire.id;
        }
        return std::nullopt;
    };
    const auto holding = [&](const std::string& part) {
        for (const Wire& wire : header.wires()) {
            if (wire.bits == 1 && lower_case(wire.name).find(part) != std::string::npos)
                return wire.id;
        }
        return std::string();
    };
    std::array<std::string, 2> ids;
    for (std::size_t line = 0; line < ids.size(); ++line) {
        const std::string& asked = line == 0 ? options.cc1 : options.cc2;
        if (asked.empty()) {
            ids[line] = holding(line == 0 ? "cc1" : "cc2");
        } else if (const auto found = named(asked)) {
            ids[line] = *found;
        } else {
            return refused("there is no wire “" + asked + "” in this capture", file);
        }
    }
    if (ids[0].empty() && ids[1].empty()) {
        const auto one_bit = std::find_if(header.wires().begin(), header.wires().end(),
                                          [](const Wire& wire) { return wire.bits == 1; });
        if (one_bit == header.wires().end())
            return refused("this capture holds no wire of one bit; record the CC line as a digital channel",
                           file);
        ids[0] = one_bit->id;
    }
    return ids;
}

Error going_back(const std::string& file, std::uint64_t line) {
    return refused("time goes back here; the capture is damaged or was put together from several",
                   file + ", line " + integer_text(line));
}

}  // namespace

Result<CaptureReport> read_vcd(std::istream& file, const std::string& name, const CaptureOptions& options,
                               const std::function<void(SeenFrame)>& found) {
    Lines lines(file);
    Supervision supervision(lines, options);
    VcdHeader header;
    CaptureReport report;
    std::uint64_t number = 0;
    std::string_view line;
    bool defined = false;
    while (!defined && lines.next(line)) {
        ++number;
        while (!line.empty()) {
            const std::size_t from = line.find_first_not_of(" \t");
            if (from == std::string_view::npos)
                break;
            line.remove_prefix(from);
            const std::size_t length = std::min(line.find_first_of(" \t"), line.size());
            const auto over = header.word(line.substr(0, length), name + ", line " + integer_text(number));
            if (!over)
                return over.error();
            defined = *over;
            line.remove_prefix(length);
        }
    }
    if (!defined || header.tick_s() <= 0.0)
        return refused(
            "this is no value-change dump: its head with $timescale and $enddefinitions is missing", name);
    const auto ids = choose_wires(header, options, name);
    if (!ids)
        return ids.error();
    for (const Wire& wire : header.wires())
        report.wires.push_back(wire.name);

    LinePair pair(found);
    double now_s = 0.0;
    double first_s = -1.0;
    std::uint64_t tick = 0;
    while (lines.next(line)) {
        ++number;
        if (!supervision.goes_on())
            return Error{ErrorKind::unavailable, "the reading was stopped", name};
        while (!line.empty()) {
            const char mark = line.front();
            line.remove_prefix(1);
            if (mark == ' ' || mark == '\t')
                continue;
            const std::size_t length = std::min(line.find_first_of(" \t"), line.size());
            const std::string_view word = line.substr(0, length);
            line.remove_prefix(length);
            if (mark == '#') {
                std::uint64_t next = 0;
                const auto [rest, problem] = std::from_chars(word.data(), word.data() + word.size(), next);
                if (problem != std::errc()) {
                    ++report.odd_lines;
                    continue;
                }
                if (next < tick)
                    return going_back(name, number);
                tick = next;
                now_s = static_cast<double>(tick) * header.tick_s();
                first_s = first_s < 0.0 ? now_s : first_s;
            } else if (mark == '0' || mark == '1') {
                if (word == (*ids)[0])
                    pair.level(0, mark == '1', now_s);
                else if (word == (*ids)[1])
                    pair.level(1, mark == '1', now_s);
            } else if (mark == 'b' || mark == 'B' || mark == 'r' || mark == 'R') {
                line = {};  // a vector or a real number, and its wire
            } else if (mark != '$' && mark != 'x' && mark != 'X' && mark != 'z' && mark != 'Z') {
                ++report.odd_lines;
            }
        }
    }
    pair.finish();
    report.edges = pair.edges();
    report.seconds = first_s < 0.0 ? 0.0 : now_s - first_s;
    return report;
}

Result<CaptureReport> read_cc_samples(std::istream& file, const std::string& name,
                                      const CaptureOptions& options,
                                      const std::function<void(SeenFrame)>& found) {
    Lines lines(file);
    Supervision supervision(lines, options);
    CaptureReport report;
    report.wires = {"cc1_volts", "cc2_volts"};
    LinePair pair(found);
    std::array<bool, 2> high{};
    bool any = false;
    double first_s = 0.0;
    double now_s = 0.0;
    std::uint64_t number = 0;
    std::string_view line;
    while (lines.next(line)) {
        ++number;
        if (!supervision.goes_on())
            return Error{ErrorKind::unavailable, "the reading was stopped", name};
        const auto t_s = take_number(line);
        if (!t_s) {
            report.odd_lines += number > 1 && !line.empty() ? 1 : 0;  // the first line is the header
            continue;
        }
        if (any && *t_s < now_s)
            return going_back(name, number);
        bool read = false;
        for (std::size_t wire = 0; wire < high.size() && !line.empty() && line.front() == ','; ++wire) {
            line.remove_prefix(1);
            const auto volts = take_number(line);
            if (!volts)
                break;
            read = true;
            const double threshold = options.threshold_volts - (high[wire] ? options.hysteresis_volts : 0.0);
            high[wire] = *volts > threshold;
            pair.level(wire, high[wire], *t_s);
        }
        if (!read) {
            ++report.odd_lines;
            continue;
        }
        first_s = any ? first_s : *t_s;
        any = true;
        now_s = *t_s;
    }
    if (!any)
        return refused("there are no samples here; lines should read like 0.000001,0.55,0.00", name);
    pair.finish();
    report.edges = pair.edges();
    report.seconds = now_s - first_s;
    return report;
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
