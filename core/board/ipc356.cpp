// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/ipc356.h"

#include <algorithm>
#include <charconv>
#include <map>
#include <optional>
#include <set>
#include <string_view>

#include "core/base/lines.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr double inch_unit_mm = 0.0001 * 25.4;
constexpr double metric_unit_mm = 0.001;
constexpr std::size_t most_remarks = 200;
// Columns of a test record, counted from 0.
constexpr std::size_t net_column = 3;
constexpr std::size_t net_width = 14;
constexpr std::size_t part_column = 20;
constexpr std::size_t part_width = 6;
constexpr std::size_t pin_column = 27;
constexpr std::size_t pin_width = 4;
constexpr std::size_t hole_column = 32;
constexpr std::size_t access_column = 38;
constexpr std::size_t least_length = pin_column;
constexpr std::size_t usual_digits = 6;
constexpr double widest_board_mm = 2000.0;

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t'))
        text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t' || text.back() == '\r'))
        text.remove_suffix(1);
    return text;
}

std::string_view columns(std::string_view line, std::size_t first, std::size_t width) {
    return first < line.size() ? line.substr(first, width) : std::string_view{};
}

// A letter, a sign and digits as they stand, however many: "X+012345".
struct Marked {
    double value = 0.0;
    std::size_t digits = 0;
};
std::optional<Marked> take_marked(std::string_view& text, char letter) {
    if (text.empty() || text.front() != letter)
        return std::nullopt;
    std::string_view left = text.substr(1);
    bool minus = false;
    if (!left.empty() && (left.front() == '+' || left.front() == '-' || left.front() == ' ')) {
        minus = left.front() == '-';
        left.remove_prefix(1);
    }
    long value = 0;
    const auto [end, problem] = std::from_chars(left.data(), left.data() + left.size(), value);
    if (problem != std::errc() || value < 0)
        return std::nullopt;
    const auto digits = static_cast<std::size_t>(end - left.data());
    text = left.substr(digits);
    return Marked{minus ? -static_cast<double>(value) : static_cast<double>(value), digits};
}

class NetlistReader {
  public:
    explicit NetlistReader(const std::string& name) : name_(name) {}

    void line(std::string_view text, std::uint64_t number) {
        number_ = number;
        if (!told_bytes_ && !is_utf8(text)) {
            told_bytes_ = true;
            remark("here and perhaps further on stand bytes that are no UTF-8; they are read as Latin-1");
        }
        if (trimmed(text).empty() || text.front() == 'C')
            return;
        if (text.front() == 'P') {
            parameter(trimmed(text.substr(1)));
            return;
        }
        const std::string_view type = text.substr(0, 3);
        if (type == "317" || type == "327" || type == "367")
            record(text, type);
        else if (type == "999")
            ended_ = true;
        else if (!read_past(type))
            remark("begins with “" + std::string(type) + "”, which is no record of a netlist; left out");
    }

    Result<BoardImport> finish() {
        if (found_.records == 0)
            return refused(
                "there is no test record in this file; a netlist has lines that begin with 317 or 327",
                name_);
        if (!ended_)
            remark("the file ends without its last line (999): it may have been cut");
        for (const auto& [net, line] : cut_names_) {
            number_ = line;
            remark("the net name “" + net +
                   "” fills its field: names that begin the same may have become one net");
            found_.map.mark_net_as_several(found_.map.net_named(net));
        }
        for (const auto& [part, line] : cut_parts_) {
            number_ = line;
            remark("the reference " + in_quotes(part) +
                   " fills its field: parts whose references begin the same may have become one part");
        }
        number_ = 0;
        if (!units_told_)
            remark("no line says in what units the places are; ten-thousandths of an inch are taken");
        found_.map.index();
        return std::move(found_);
    }

  private:
    static bool read_past(std::string_view type) {
        return type == "378" || type == "379" || type == "389" || type == "017" || type == "027" ||
               type == "078" || type == "079" || type == "089";
    }

    void remark(const std::string& text) {
        if (found_.remarks.size() < most_remarks)
            found_.remarks.push_back({number_, as_utf8(text)});
        else
            ++found_.further_remarks;
    }

    // "UNITS CUST 0", "NNAME1   LONG_NAME_OF_A_NET", "JOB ...".
    void parameter(std::string_view text) {
        if (text.substr(0, 5) == "UNITS") {
            units_told_ = true;
            const std::string_view units = trimmed(text.substr(5));
            if (units == "CUST 0" || units == "CUST" || units == "CUST 2")
                unit_mm_ = inch_unit_mm;
            else if (units == "CUST 1" || units == "SI")
                unit_mm_ = metric_unit_mm;
            else
                remark("the units “" + std::string(units) +
                       "” are not known; ten-thousandths of an inch are taken");
            return;
        }
        if (text.substr(0, 5) == "NNAME") {
            const auto blank = text.find(' ');
            if (blank == std::string_view::npos)
                remark("an alias without the name that it stands for");
            else
                aliases_[as_utf8(text.substr(0, blank))] = as_utf8(trimmed(text.substr(blank)));
            return;
        }
        if (text.substr(0, 3) == "JOB" || text.substr(0, 5) == "TITLE") {
            const auto blank = text.find(' ');
            if (blank != std::string_view::npos && found_.map.title.empty())
                found_.map.title = as_utf8(trimmed(text.substr(blank)));
        }
    }

    int net_of(std::string_view field) {
        const std::string name = as_utf8(trimmed(field));
        if (name.empty() || name == "N/C")
            return no_index;
        if (const auto alias = aliases_.find(name); alias != aliases_.end())
            return found_.map.net_named(alias->second);
        if (trimmed(field).size() >= net_width)
            cut_names_.try_emplace(name, number_);
        return found_.map.net_named(name);
    }

    void record(std::string_view text, std::string_view type) {
        if (text.size() < least_length) {
            remark("the record ends after " + integer_text(text.size()) +
                   " columns, before its pin; left out");
            return;
        }
        Pad pad;
        pad.net = net_of(columns(text, net_column, net_width));
        const std::string_view reference = trimmed(columns(text, part_column, part_width));
        const std::string part = as_utf8(reference);
        pad.pin = as_utf8(trimmed(columns(text, pin_column, pin_width)));
        if (reference.size() >= part_width)
            cut_parts_.try_emplace(part, number_);
        if (!part.empty() && part != "VIA") {
            pad.part = found_.map.part_named(part);
            if (!pad.pin.empty() && !pins_.insert(part + '-' + pad.pin).second)
                remark("pin " + pad.pin + " of " + part + " stands here again: two parts may have one name");
        }
        std::string_view hole = columns(text, hole_column, 5);
        if (const auto drill = take_marked(hole, 'D'))
            pad.drill_mm = drill->value * unit_mm_;
        read_access(text, type, pad);
        read_place(text, pad);
        found_.map.add_pad(std::move(pad));
        ++found_.records;
    }

    void read_access(std::string_view text, std::string_view type, Pad& pad) {
        std::string_view access = columns(text, access_column, 3);
        const auto side = take_marked(access, 'A');
        // 00: both sides, 01: the primary one, 02: the other of a board of two layers, and so on.
        if (side && side->value > 0.0)
            pad.side = side->value == 1.0 ? BoardSide::top : BoardSide::bottom;
        else
            pad.side = type == "327" && !side ? BoardSide::top : BoardSide::both;
    }

    void read_place(std::string_view text, Pad& pad) {
        // Where the fields run over, the rest of the line has moved; the letters say where it is.
        const auto first = text.find('X', access_column);
        if (first == std::string_view::npos) {
            remark("no coordinates; the pad is kept without a place");
            return;
        }
        std::string_view left = text.substr(first);
        const auto x = take_marked(left, 'X');
        const auto y = take_marked(left, 'Y');
        if (!x || !y) {
            remark("the coordinates cannot be read; the pad is kept without a place");
            return;
        }
        if (x->digits > usual_digits || y->digits > usual_digits)
            remark("the coordinates are longer than their field; they are taken as they stand");
        const Point place{x->value * unit_mm_, y->value * unit_mm_};
        if (std::abs(place.x_mm) > widest_board_mm || std::abs(place.y_mm) > widest_board_mm) {
            remark("the pad would lie more than two metres away; it is kept without a place");
            return;
        }
        pad.place = place;
        if (const auto width = take_marked(left, 'X'))
            pad.width_mm = width->value * unit_mm_;
        if (const auto height = take_marked(left, 'Y'))
            pad.height_mm = height->value * unit_mm_;
        if (pad.height_mm == 0.0)  // a round one
            pad.height_mm = pad.width_mm;
    }

    std::string name_;
    BoardImport found_;
    std::uint64_t number_ = 0;
    double unit_mm_ = inch_unit_mm;
    bool ended_ = false;
    std::map<std::string, std::string> aliases_;
    std::map<std::string, std::uint64_t> cut_names_;  // and the line of the first
    std::map<std::string, std::uint64_t> cut_parts_;
    std::set<std::string> pins_;
    bool units_told_ = false;
    bool told_bytes_ = false;
};

}  // namespace

Result<BoardImport> read_ipc356(std::istream& file, const std::string& name) {
    Lines lines(file);
    NetlistReader reader(name);
    std::string_view line;
    for (std::uint64_t number = 1; lines.next(line); ++number)
        reader.line(line, number);
    return reader.finish();
}

}  // namespace eh
