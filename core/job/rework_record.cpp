// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/rework_record.h"

#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <set>
#include <sstream>

#include "core/base/json_reader.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

using nlohmann::json;

constexpr std::array<const char*, opening_kind_count> kind_names{"screw", "connector", "clip", "other"};
constexpr int most_pieces = 1000;

std::string pieces(const OpeningItem& item) {
    std::string text = item.kind == OpeningKind::other ? "piece" : to_text(item.kind);
    if (item.count != 1)
        text += "s";
    if (item.length_mm > 0.0) {
        text += number_text(", %g mm", item.length_mm);
    }
    return item.place.empty() ? text : text + ", " + item.place;
}

std::optional<double> millimetres(const std::string& word) {
    if (word.size() < 3 || word.substr(word.size() - 2) != "mm")
        return std::nullopt;
    const auto number = parse_quantity(word.substr(0, word.size() - 2));
    if (!number || number->over_limit || number->unit != Unit::none || !(number->value > 0.0))
        return std::nullopt;
    return number->value;
}

bool is_count(const std::string& word) {
    return word.size() <= 3 && word.find_first_not_of("0123456789") == std::string::npos && word != "0";
}

std::optional<OpeningKind> kind_of_word(const std::string& word) {
    static const std::map<std::string, OpeningKind> words{
        {"screw", OpeningKind::screw},         {"screws", OpeningKind::screw},
        {"connector", OpeningKind::connector}, {"connectors", OpeningKind::connector},
        {"cable", OpeningKind::connector},     {"cables", OpeningKind::connector},
        {"plug", OpeningKind::connector},      {"flex", OpeningKind::connector},
        {"clip", OpeningKind::clip},           {"clips", OpeningKind::clip}};
    const auto found = words.find(word);
    return found == words.end() ? std::nullopt : std::optional(found->second);
}

OpeningItem read_opening(const JsonReader& item) {
    OpeningItem piece;
    piece.id = item.text("id");
    const auto kind = std::find(kind_names.begin(), kind_names.end(), item.text("kind"));
    if (kind == kind_names.end())
        item.at("kind").refuse("“" + item.text("kind") +
                               "” is not known here; use screw, connector, clip or other");
    piece.kind = static_cast<OpeningKind>(kind - kind_names.begin());
    piece.place = item.text("place", "");
    piece.count = static_cast<int>(item.number_between("count", 1.0, most_pieces));
    piece.back = static_cast<int>(item.has("back") ? item.number_between("back", 0.0, piece.count) : 0.0);
    piece.length_mm = item.has("length_mm") ? item.number_between("length_mm", 0.0, 200.0) : 0.0;
    piece.note = item.text("note", "");
    return piece;
}

}  // namespace

std::string to_text(OpeningKind kind) {
    return kind_names[static_cast<std::size_t>(kind)];
}

json write_rework(const ReworkRecord& record) {
    json runs = json::array();
    for (const RepairRun& run : record.runs) {
        json done = json::array();
        for (const StepDone& step : run.done) {
            done.push_back({{"step", step.step}, {"done_ms", step.done_ms}});
            if (step.seconds > 0.0)
                done.back()["seconds"] = step.seconds;
        }
        runs.push_back({{"repair", run.repair}, {"facts", run.facts}, {"done", std::move(done)}});
        if (!run.block.empty())
            runs.back()["block"] = run.block;
    }
    json opening = json::array();
    for (const OpeningItem& item : record.opening) {
        opening.push_back({{"id", item.id},
                           {"kind", to_text(item.kind)},
                           {"place", item.place},
                           {"count", item.count},
                           {"back", item.back}});
        if (item.length_mm > 0.0)
            opening.back()["length_mm"] = item.length_mm;
        if (!item.note.empty())
            opening.back()["note"] = item.note;
    }
    json photos = json::array();
    for (const StepPhoto& photo : record.photos)
        photos.push_back({{"id", photo.id},
                          {"step", photo.step},
                          {"file", photo.file.text()},
                          {"caption", photo.caption}});
    return {{"runs", std::move(runs)}, {"opening", std::move(opening)}, {"photos", std::move(photos)}};
}

ReworkRecord read_rework(const JsonReader& field) {
    ReworkRecord record;
    for (const JsonReader& item : field.items_or_none("runs")) {
        RepairRun run{item.text("repair"), item.text("block", ""), item.texts("facts"), {}};
        for (const JsonReader& done : item.items_or_none("done"))
            run.done.push_back({done.text("step"), done.integer("done_ms", 0), done.number("seconds", 0.0)});
        record.runs.push_back(std::move(run));
    }
    for (const JsonReader& item : field.items_or_none("opening"))
        record.opening.push_back(read_opening(item));
    for (const JsonReader& item : field.items_or_none("photos"))
        record.photos.push_back({item.text("id"), item.text("step", ""), item.identifier<FileName>("file"),
                                 item.text("caption", "")});
    return record;
}

OpeningItem parse_opening_line(const std::string& line) {
    OpeningItem item;
    item.kind = OpeningKind::other;
    std::istringstream stream(line);
    std::vector<std::string> words;
    for (std::string word; stream >> word;)
        words.push_back(word);
    bool counted = false;
    bool named = false;
    for (std::size_t i = 0; i < words.size(); ++i) {
        const bool apart = i + 1 < words.size() && words[i + 1] == "mm";
        if (const auto length = millimetres(apart ? words[i] + "mm" : words[i])) {
            item.length_mm = *length;
            i += apart;
        } else if (!counted && is_count(words[i])) {
            item.count = std::stoi(words[i]);
            counted = true;
        } else if (const auto kind = kind_of_word(words[i]); kind && !named) {
            item.kind = *kind;
            named = true;
            // "display cable": what it is called stays readable.
            if (words[i] == "cable" || words[i] == "flex" || words[i] == "cables")
                item.place += (item.place.empty() ? "" : " ") + words[i];
        } else {
            item.place += (item.place.empty() ? "" : " ") + words[i];
        }
    }
    // A length makes it a screw, said or not.
    if (item.kind == OpeningKind::other && item.length_mm > 0.0)
        item.kind = OpeningKind::screw;
    return item;
}

ClosingCheck check_closing(const std::vector<OpeningItem>& opening) {
    ClosingCheck check;
    std::map<std::string, std::set<double>> lengths;
    std::vector<OpeningItem> ordered = opening;
    std::stable_sort(ordered.begin(), ordered.end(), [](const OpeningItem& a, const OpeningItem& b) {
        return (a.kind == OpeningKind::connector) > (b.kind == OpeningKind::connector);
    });
    for (const OpeningItem& item : ordered) {
        check.out += item.count;
        check.back += item.back;
        if (item.back < item.count)
            check.missing.push_back(item.count == 1 ? pieces(item)
                                                    : integer_text(item.count - item.back) + " of " +
                                                          integer_text(item.count) + " " + pieces(item));
        if (item.kind == OpeningKind::screw && item.length_mm > 0.0)
            lengths[item.place].insert(item.length_mm);
    }
    for (const auto& [place, several] : lengths) {
        if (several.size() < 2)
            continue;
        check.mind.push_back("Screws of " + number_text("%g", *several.begin()) +
                             number_text(" to %g mm", *several.rbegin()) + " came from one place (" + place +
                             "): a long one in a short hole cracks the board.");
    }
    return check;
}

}  // namespace eh
