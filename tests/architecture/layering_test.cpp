// SPDX-License-Identifier: GPL-3.0-or-later
// Arrows only downward, read off the include lines of the sources themselves.
#include <filesystem>
#include <fstream>
#include <map>
#include <set>
#include <sstream>

namespace fs = std::filesystem;

namespace {

struct Include {
    std::string file;
    std::string target;
};

std::vector<Include> includes_below(const std::string& folder) {
    std::vector<Include> list;
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(EH_SOURCE_DIR) / folder)) {
        const auto extension = entry.path().extension();
        if (extension != ".cpp" && extension != ".h")
            continue;
        std::ifstream file(entry.path());
        for (std::string line; std::getline(file, line);) {
            if (line.rfind("#include", 0) != 0)
                continue;
            const auto from = line.find_first_of("<\"") + 1;
            const auto to = line.find_first_of(">\"", from);
            list.push_back({entry.path().string(), line.substr(from, to - from)});
        }
    }
    return list;
}

bool is_qt_header(const std::string& target) {
    return target.size() > 1 && target[0] == 'Q' && target[1] >= 'A' && target[1] <= 'Z';
}

}  // namespace

TEST_CASE("core includes no Qt header", "[architecture]") {
    const auto includes = includes_below("core");
    REQUIRE(includes.size() > 50);
    for (const Include& include : includes) {
        CAPTURE(include.file, include.target);
        CHECK_FALSE(is_qt_header(include.target));
        CHECK(include.target.rfind("qcustomplot", 0) != 0);
    }
}

namespace {

// What rooms.txt lets each room and layer include, by folder, the lowest first.
using Arrows = std::vector<std::pair<std::string, std::set<std::string>>>;

Arrows allowed_arrows() {
    Arrows arrows;
    std::ifstream file(EH_SOURCE_DIR "/rooms.txt");
    for (std::string line; std::getline(file, line);) {
        const auto colon = line.find(':');
        if (line.empty() || line.front() == '#' || colon == std::string::npos)
            continue;
        std::istringstream below(line.substr(colon + 1));
        std::set<std::string> rooms;
        for (std::string room; below >> room;)
            rooms.insert(room);
        arrows.emplace_back(line.substr(0, colon), std::move(rooms));
    }
    return arrows;
}

// The room or layer that a path stands in; empty for headers from elsewhere.
std::string room_of(const std::string& path, const Arrows& arrows) {
    std::string best;
    for (const auto& [room, below] : arrows) {
        if (path.rfind(room + "/", 0) == 0 && room.size() > best.size())
            best = room;
    }
    return best;
}

bool lets(const std::set<std::string>& below, const std::string& room) {
    return below.count(room) == 1 || below.count(room.substr(0, room.find('/'))) == 1;
}

}  // namespace

TEST_CASE("rooms include only what rooms.txt lets them", "[architecture]") {
    const Arrows arrows = allowed_arrows();
    REQUIRE(arrows.size() > 20);
    std::map<std::string, int> used;
    for (const auto& [room, below] : arrows) {
        for (const Include& include : includes_below(room)) {
            const std::string file = fs::relative(include.file, EH_SOURCE_DIR).string();
            const std::string from = room_of(file, arrows);
            const std::string to = room_of(include.target, arrows);
            if (from != room || to.empty() || to == room)
                continue;
            CAPTURE(file, include.target);
            CHECK(lets(below, to));
            ++used[room + " to " + to];
        }
        // An arrow that nothing takes any more is taken out of the map.
        for (const std::string& other : below) {
            CAPTURE(room, other);
            const bool whole_layer = other == "core" || other.find('/') == std::string::npos;
            CHECK((whole_layer || used.count(room + " to " + other) == 1));
        }
    }
}

TEST_CASE("the floors have an order: no room stands above itself", "[architecture]") {
    std::set<std::string> known{"core"};
    for (const auto& [room, below] : allowed_arrows()) {
        for (const std::string& other : below) {
            CAPTURE(room, other);
            CHECK(known.count(other) == 1);
        }
        known.insert(room);
    }
}

TEST_CASE("every folder with sources is a room of the map", "[architecture]") {
    const Arrows arrows = allowed_arrows();
    std::set<std::string> folders;
    for (const char* top : {"core", "evaluation"}) {
        for (const auto& entry : fs::recursive_directory_iterator(fs::path(EH_SOURCE_DIR) / top)) {
            if (entry.path().extension() == ".h" || entry.path().extension() == ".cpp")
                folders.insert(fs::relative(entry.path().parent_path(), EH_SOURCE_DIR).string());
        }
    }
    for (const std::string& folder : folders) {
        CAPTURE(folder);
        CHECK(room_of(folder + "/x", arrows) == folder);
    }
}
