// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/footprint.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <sstream>

#include "core/base/json_reader.h"
#include "core/base/json_text.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr double pin_covers = 0.6;
constexpr double pin_covers_somewhat = 0.35;
constexpr double hole_play = 0.1;  // a leg goes into a hole this much off
constexpr double anchor_bends = 0.8;
constexpr double front_fits = 0.2;
constexpr double front_changes = 0.6;
constexpr double height_fits = 0.15;
constexpr double height_changes = 0.4;
constexpr double largest_mm = 80.0;

std::string mm(double value) {
    return number_text("%.2g mm", std::abs(value));
}

const FootprintPad* find_pad(const Footprint& footprint, const std::string& name) {
    const auto found = std::find_if(footprint.pads.begin(), footprint.pads.end(),
                                    [&](const FootprintPad& pad) { return pad.name == name; });
    return found == footprint.pads.end() ? nullptr : &*found;
}

double common(double a, double a_size, double b, double b_size) {
    return std::max(0.0, std::min(a + a_size / 2, b + b_size / 2) - std::max(a - a_size / 2, b - b_size / 2));
}

double overlap_of(const FootprintPad& board, const FootprintPad& part) {
    if (board.through && part.through) {
        const bool goes_in = std::abs(part.x - board.x) <= (board.width - part.width) / 2 + hole_play &&
                             std::abs(part.y - board.y) <= (board.depth - part.depth) / 2 + hole_play;
        return goes_in ? 1.0 : 0.0;
    }
    if (board.through != part.through)
        return 0.0;
    const double area =
        common(board.x, board.width, part.x, part.width) * common(board.y, board.depth, part.y, part.depth);
    return area / std::min(board.width * board.depth, part.width * part.depth);
}

// Mean displacement of the signal pads that both have; anchors where no signal pad is shared.
void find_shift(FootprintComparison& result, const Footprint& board, const Footprint& part) {
    for (const bool anchors : {false, true}) {
        double x = 0.0;
        double y = 0.0;
        int count = 0;
        for (const FootprintPad& pad : board.pads) {
            const FootprintPad* other = find_pad(part, pad.name);
            if (other == nullptr || pad.anchor != anchors)
                continue;
            x += pad.x - other->x;
            y += pad.y - other->y;
            ++count;
        }
        if (count > 0) {
            result.shift_x = x / count;
            result.shift_y = y / count;
            return;
        }
    }
}

struct Judgement {
    Fit fit = Fit::fits;
    std::vector<std::string> grave;
    std::vector<std::string> changes;

    void no(std::string why) {
        fit = Fit::no;
        grave.push_back(std::move(why));
    }
    void change(std::string how) {
        fit = std::max(fit, Fit::with_a_change);
        changes.push_back(std::move(how));
    }
};

std::string listed(const std::vector<std::string>& names) {
    std::string text;
    for (const std::string& name : names)
        text += (text.empty() ? "" : ", ") + name;
    return text;
}

void judge_pins(Judgement& judgement, const std::vector<PadMatch>& pads) {
    std::vector<std::string> missing;
    std::vector<std::string> off;
    std::vector<std::string> partly;
    std::vector<std::string> spare;
    for (const PadMatch& pad : pads) {
        if (pad.anchor)
            continue;
        if (!pad.on_part)
            missing.push_back(pad.name);
        else if (!pad.on_board)
            spare.push_back(pad.name);
        else if (pad.overlap < pin_covers_somewhat)
            off.push_back(pad.name);
        else if (pad.overlap < pin_covers)
            partly.push_back(pad.name);
    }
    if (!missing.empty())
        judgement.no("The part has no pin for " + listed(missing) + ": what they do is lost.");
    if (!off.empty())
        judgement.no("Pins miss their pads: " + listed(off) + ".");
    if (!spare.empty())
        judgement.no("The board has no pad for " + listed(spare) + " of the part.");
    if (!partly.empty())
        judgement.change(
            "These pins cover their pads only partly; solder under magnification: " + listed(partly) + ".");
}

void judge_anchors(Judgement& judgement, const std::vector<PadMatch>& pads) {
    int missing = 0;
    int anchors = 0;
    std::map<std::string, std::vector<std::string>> to_bend;  // by how much
    for (const PadMatch& pad : pads) {
        if (!pad.anchor)
            continue;
        anchors += pad.on_board;
        if (!pad.on_part) {
            ++missing;
            judgement.change("Anchor " + pad.name + " of the board stays empty: less force is carried.");
        } else if (!pad.on_board) {
            judgement.change("Cut off leg " + pad.name + " of the part: the board has no hole for it.");
        } else if (pad.overlap < pin_covers) {
            const double away = std::hypot(pad.dx, pad.dy);
            if (away > anchor_bends)
                judgement.no("Anchor " + pad.name + " stands " + mm(away) + " beside its hole.");
            else
                to_bend[mm(away)].push_back(pad.name);
        }
    }
    for (const auto& [away, names] : to_bend)
        judgement.change((names.size() == 1 ? "Bend anchor " : "Bend anchors ") + listed(names) + " by " +
                         away + ".");
    if (anchors > 0 && missing == anchors)
        judgement.no("None of the board's anchors is held: the plug would tear it off.");
}

void judge_place(Judgement& judgement, const FootprintComparison& result) {
    const double front = std::abs(result.front_off);
    const std::string way = result.front_off > 0.0 ? " farther out" : " farther in";
    if (front > front_changes)
        judgement.no("The opening stands " + mm(front) + way + ": plug or case do not meet it.");
    else if (front > front_fits)
        judgement.change("The opening stands " + mm(front) + way + "; try a plug with the case on.");
    const double height = std::abs(result.height_off);
    const std::string up = result.height_off > 0.0 ? " higher" : " lower";
    if (height > height_changes)
        judgement.no("The opening sits " + mm(height) + up + " than the case's hole.");
    else if (height > height_fits)
        judgement.change("The opening sits " + mm(height) + up + "; the case may press on it.");
}

Outcome check_pad(const FootprintPad& pad, const std::string& where) {
    if (pad.name.empty())
        return refused("a pad needs a name, the same as on other footprints for the same function", where);
    if (!(pad.width > 0.0 && pad.depth > 0.0 && pad.width < largest_mm && pad.depth < largest_mm))
        return refused("the pad " + pad.name + " has no size; give width and depth in mm", where);
    if (!(std::abs(pad.x) < largest_mm && std::abs(pad.y) < largest_mm))
        return refused("the pad " + pad.name + " lies outside of any board part; millimetres are meant",
                       where);
    return Done{};
}

}  // namespace

std::string describe(Fit fit) {
    switch (fit) {
        case Fit::fits:
            return "fits";
        case Fit::with_a_change:
            return "fits with a change";
        case Fit::no:
            return "does not fit";
    }
    return {};
}

Outcome check_footprint(const Footprint& footprint) {
    if (footprint.pads.empty())
        return refused("a footprint without pins fits nothing; enter its pads", footprint.title);
    std::set<std::string> names;
    for (const FootprintPad& pad : footprint.pads) {
        if (auto checked = check_pad(pad, footprint.title); !checked)
            return checked;
        if (!names.insert(pad.name).second)
            return refused("the pad " + pad.name + " stands twice; each has a name of its own",
                           footprint.title);
    }
    return Done{};
}

Result<std::vector<Footprint>> parse_footprints(const std::string& text, const std::string& file) {
    return read_json<std::vector<Footprint>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.footprints", 1);
        std::vector<Footprint> list;
        for (const JsonReader& item : root.items("footprints")) {
            Footprint f;
            f.id = item.text("id");
            f.title = item.text("title");
            f.family = item.text("family");
            f.shell_width = item.number_between("shell_width", 0.5, largest_mm);
            f.shell_depth = item.number_between("shell_depth", 0.5, largest_mm);
            f.overhang = item.number("overhang");
            f.height = item.number("height");
            f.mid_mount = item.boolean("mid_mount", false);
            for (const JsonReader& pad : item.items("pads"))
                f.pads.push_back({pad.text("name"), pad.number("x"), pad.number("y"), pad.number("width"),
                                  pad.number("depth"), pad.boolean("anchor", false),
                                  pad.boolean("through", false)});
            if (auto checked = check_footprint(f); !checked)
                item.refuse(checked.error().message);
            if (std::any_of(list.begin(), list.end(),
                            [&](const Footprint& other) { return other.id == f.id; }))
                item.refuse("the id “" + f.id + "” stands twice; choose another");
            list.push_back(std::move(f));
        }
        return list;
    });
}

std::string write_footprints(const std::vector<Footprint>& footprints) {
    nlohmann::json list = nlohmann::json::array();
    for (const Footprint& f : footprints) {
        nlohmann::json pads = nlohmann::json::array();
        for (const FootprintPad& pad : f.pads)
            pads.push_back({{"name", pad.name},
                            {"x", pad.x},
                            {"y", pad.y},
                            {"width", pad.width},
                            {"depth", pad.depth},
                            {"anchor", pad.anchor},
                            {"through", pad.through}});
        list.push_back({{"id", f.id},
                        {"title", f.title},
                        {"family", f.family},
                        {"shell_width", f.shell_width},
                        {"shell_depth", f.shell_depth},
                        {"overhang", f.overhang},
                        {"height", f.height},
                        {"mid_mount", f.mid_mount},
                        {"pads", std::move(pads)}});
    }
    return json_text(nlohmann::json{{"format", "eager-hound.footprints/1"}, {"footprints", std::move(list)}},
                     1) +
           "\n";
}

Result<Footprint> parse_measured_footprint(const std::string& text) {
    Footprint footprint;
    std::istringstream lines(text);
    std::string line;
    int number = 0;
    bool shell = false;
    while (std::getline(lines, line)) {
        ++number;
        std::istringstream words(line);
        std::string first;
        if (!(words >> first))
            continue;
        const std::string place = "line " + integer_text(number);
        if (footprint.family.empty()) {
            const auto comma = line.find(',');
            if (comma == std::string::npos)
                return refused("begin with family and name, as in “usb-c, my receptacle”", place);
            const auto title = line.find_first_not_of(" ,", comma);
            if (title == std::string::npos)
                return refused("write a name behind the comma, as in “usb-c, my receptacle”", place);
            footprint.family = first.substr(0, first.find(','));
            footprint.title = line.substr(title);
        } else if (first == "shell") {
            std::string out;
            std::string high;
            std::string mount;
            if (!(words >> footprint.shell_width >> footprint.shell_depth >> out >> footprint.overhang >>
                  high >> footprint.height) ||
                out != "out" || high != "high")
                return refused("write the shell as in “shell 8.94 7.35 out 0.6 high 1.63”", place);
            words >> mount;
            footprint.mid_mount = mount == "mid";
            shell = true;
        } else {
            FootprintPad pad;
            pad.name = first;
            std::string kind;
            if (!(words >> pad.x >> pad.y >> pad.width >> pad.depth))
                return refused("write a pad as in “A1 3.35 6.9 0.6 1.1”, a leg with “leg” behind it", place);
            words >> kind;
            pad.through = kind == "leg";
            pad.anchor = first.front() == 'S';
            footprint.pads.push_back(std::move(pad));
        }
    }
    if (!shell)
        return refused("the shell's size is missing: a line as “shell 8.94 7.35 out 0.6 high 1.63”",
                       footprint.title.empty() ? "footprint" : footprint.title);
    if (auto checked = check_footprint(footprint); !checked)
        return checked.error();
    return footprint;
}

FootprintComparison compare_footprints(const Footprint& board, const Footprint& part) {
    FootprintComparison result;
    if (board.family != part.family) {
        result.reasons.emplace_back("They are inlets of different kinds.");
        return result;
    }
    find_shift(result, board, part);
    for (const FootprintPad& pad : board.pads) {
        PadMatch match{pad.name, pad.anchor, true, false, 0.0, 0.0, 0.0};
        if (const FootprintPad* other = find_pad(part, pad.name)) {
            FootprintPad moved = *other;
            moved.x += result.shift_x;
            moved.y += result.shift_y;
            match.on_part = true;
            match.dx = moved.x - pad.x;
            match.dy = moved.y - pad.y;
            match.overlap = overlap_of(pad, moved);
        }
        result.pads.push_back(match);
    }
    for (const FootprintPad& pad : part.pads)
        if (find_pad(board, pad.name) == nullptr)
            result.pads.push_back({pad.name, pad.anchor, false, true, 0.0, 0.0, 0.0});
    // A part that must be moved inward has its opening farther in by as much.
    result.front_off = part.overhang - board.overhang - result.shift_y;
    result.height_off = part.height - board.height;
    Judgement judgement;
    if (board.mid_mount != part.mid_mount)
        judgement.no(board.mid_mount ? "The board has a cut-out; this part sits on top."
                                     : "This part needs a cut-out; the board has none.");
    judge_pins(judgement, result.pads);
    judge_anchors(judgement, result.pads);
    judge_place(judgement, result);
    result.fit = judgement.fit;
    result.reasons = std::move(judgement.grave);
    result.reasons.insert(result.reasons.end(), judgement.changes.begin(), judgement.changes.end());
    if (result.reasons.empty())
        result.reasons.emplace_back("Every pin and anchor lies on its pad; opening and height agree.");
    return result;
}

ReuseAdvice advise_reuse(const OldPart& old) {
    ReuseAdvice advice;
    const auto against = [&](bool is_so, const char* why) {
        if (is_so)
            advice.reasons.emplace_back(why);
        return is_so;
    };
    bool bad = against(old.melted_or_burnt, "Melted or burnt plastic lets contacts touch: never again.");
    bad = against(old.shorted_inside, "It is shorted inside.") || bad;
    bad = against(old.contacts_worn,
                  "Worn contacts drop out when the plug moves; bending them back does not last.") ||
          bad;
    bad =
        against(old.shell_bent, "A bent shell presses on the tongue; straightened, it spreads again.") || bad;
    bad = against(old.liquid, "Liquid leaves crust under the tongue that no cleaning reaches.") || bad;
    const bool new_fits = old.new_part && *old.new_part != Fit::no;
    if (!bad && old.torn_off_whole) {
        advice.reuse = true;
        advice.reasons.emplace_back(
            "The original is sound and only torn off: it fits exactly, and its contacts are known.");
        if (old.new_part_original)
            advice.reasons.emplace_back(
                "The same part is to be had new; keeping the old one saves the customer its price.");
        else if (new_fits)
            advice.reasons.emplace_back("What is to be had new is a copy, of which the shop knows less.");
        advice.warranty =
            "The shop answers for its joints, not for the age of the contacts: say so on the sheet.";
        return advice;
    }
    if (!bad)
        advice.reasons.emplace_back("It is not torn off: there is no reason to take it off and put it back.");
    if (new_fits) {
        advice.warranty = old.new_part_original
                              ? "A new original carries the shop's full warranty."
                              : "A bought copy is the shop's own warranty: log where it came from.";
        if (*old.new_part == Fit::with_a_change)
            advice.reasons.emplace_back("The new part fits with a change; write down which.");
    } else {
        advice.neither = bad;
        advice.warranty =
            bad ? "No sound part is at hand: order, and park the job. A shorted inlet stays out: fire."
                : "Leave it as it is.";
    }
    return advice;
}

}  // namespace eh
