// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_json.h"

#include <array>
#include <istream>
#include <set>

#include "core/base/files.h"
#include "core/base/json_reader.h"
#include "core/base/json_text.h"
#include "core/base/text.h"

namespace eh {
namespace {

constexpr const char* board_format = "eager-hound.board";
constexpr int newest_board_format = 1;
constexpr std::array<const char*, 3> side_names{"top", "bottom", "both"};
constexpr double farthest_mm = 2000.0;
constexpr double widest_pad_mm = 200.0;

BoardSide side_in(const JsonReader& item) {
    const std::string text = item.text("side", side_names[0]);
    for (std::size_t i = 0; i < side_names.size(); ++i) {
        if (text == side_names[i])
            return static_cast<BoardSide>(i);
    }
    item.at("side").refuse("a side is top, bottom or both");
}

Pad read_pad(const JsonReader& item, BoardMap& map) {
    Pad pad;
    if (item.has("net"))
        pad.net = map.net_named(item.text("net"));
    if (item.has("part"))
        pad.part = map.part_named(item.text("part"));
    pad.pin = item.text("pin", "");
    if (item.has("x_mm") || item.has("y_mm"))
        pad.place = Point{item.number_between("x_mm", -farthest_mm, farthest_mm),
                          item.number_between("y_mm", -farthest_mm, farthest_mm)};
    pad.side = side_in(item);
    const auto size = [&](const char* key) {
        return item.has(key) ? item.number_between(key, 0.0, widest_pad_mm) : 0.0;
    };
    pad.width_mm = size("width_mm");
    pad.height_mm = size("height_mm");
    pad.drill_mm = size("drill_mm");
    return pad;
}

BoardPicture read_picture(const JsonReader& item) {
    constexpr double most_pixels = 1e5;
    constexpr std::size_t least_marks = 4;
    BoardPicture picture;
    picture.file = item.text("file");
    picture.side = side_in(item);
    for (const JsonReader& mark : item.items("marks"))
        picture.marks.push_back({{mark.number_between("x_px", -most_pixels, most_pixels),
                                  mark.number_between("y_px", -most_pixels, most_pixels)},
                                 {mark.number_between("x_mm", -farthest_mm, farthest_mm),
                                  mark.number_between("y_mm", -farthest_mm, farthest_mm)}});
    if (picture.file.empty() || picture.side == BoardSide::both || picture.marks.size() < least_marks)
        item.refuse("a picture has a file, a side (top or bottom) and four marks or more");
    return picture;
}

}  // namespace

std::string write_board(const BoardMap& map, const std::vector<BoardPicture>& pictures) {
    nlohmann::json root{{"format", std::string(board_format) + "/" + integer_text(newest_board_format)},
                        {"title", map.title}};
    auto& unfitted = root["not_fitted"] = nlohmann::json::array();
    for (const BoardPart& part : map.parts()) {
        if (!part.fitted)
            unfitted.push_back(part.name);
    }
    for (const BoardPicture& picture : pictures) {
        nlohmann::json one{{"file", picture.file},
                           {"side", side_names[static_cast<std::size_t>(picture.side)]}};
        for (const MarkedPoint& mark : picture.marks)
            one["marks"].push_back({{"x_px", mark.seen.x_px},
                                    {"y_px", mark.seen.y_px},
                                    {"x_mm", mark.place.x_mm},
                                    {"y_mm", mark.place.y_mm}});
        root["pictures"].push_back(std::move(one));
    }
    auto& pads = root["pads"] = nlohmann::json::array();
    for (const Pad& pad : map.pads()) {
        nlohmann::json one{{"side", side_names[static_cast<std::size_t>(pad.side)]}};
        if (pad.net != no_index)
            one["net"] = map.net(pad.net).name;
        if (pad.part != no_index)
            one["part"] = map.part(pad.part).name;
        if (!pad.pin.empty())
            one["pin"] = pad.pin;
        if (pad.place) {
            one["x_mm"] = pad.place->x_mm;
            one["y_mm"] = pad.place->y_mm;
        }
        for (const auto& [key, value] : {std::pair{"width_mm", pad.width_mm},
                                         {"height_mm", pad.height_mm},
                                         {"drill_mm", pad.drill_mm}}) {
            if (value > 0.0)
                one[key] = value;
        }
        pads.push_back(std::move(one));
    }
    return json_text(root, 1);
}

Result<BoardImport> parse_board(const std::string& text, const std::string& file) {
    return read_json<BoardImport>(text, file, [&](const JsonReader& root) {
        root.check_format(board_format, newest_board_format);
        BoardImport found;
        found.map.title = root.text("title", "");
        std::set<std::string> pins;
        for (const JsonReader& item : root.items("pads")) {
            Pad pad = read_pad(item, found.map);
            if (pad.part != no_index && !pad.pin.empty() &&
                !pins.insert(found.map.part(pad.part).name + '-' + pad.pin).second)
                found.remarks.push_back({0, item.path() + ": pin " + pad.pin + " of " +
                                                found.map.part(pad.part).name +
                                                " stands here again: two parts may have one name"});
            found.map.add_pad(std::move(pad));
            ++found.records;
        }
        for (const JsonReader& item : root.items_or_none("pictures"))
            found.pictures.push_back(read_picture(item));
        if (found.records == 0 && found.pictures.empty())
            root.at("pads").refuse("a board needs pads, or a picture to mark them on");
        for (const std::string& name : root.texts("not_fitted")) {
            const int part = found.map.find_part(name);
            if (part == no_index)
                root.at("not_fitted").refuse("there is no part “" + name + "” on this board");
            found.map.set_fitted(part, false);
        }
        found.map.index();
        return found;
    });
}

Result<BoardImport> read_board(const std::filesystem::path& path) {
    auto opened = open_for_reading(path);
    if (!opened)
        return opened.error();
    std::istream& file = **opened;
    const int first = (file >> std::ws).peek();
    file.clear();  // an empty file is at its end already
    file.seekg(0);
    if (first != '{')
        return read_ipc356(file, path.filename().string());
    const auto text = read_text_file(path);
    return text ? parse_board(*text, path.filename().string()) : Result<BoardImport>(text.error());
}

}  // namespace eh
