// SPDX-License-Identifier: GPL-3.0-or-later
// Boards as maps: netlists against the files of PCB editors, the program's own format, and what is found on
// them.
#include <algorithm>
#include <array>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>

#include "core/base/random.h"
#include "core/base/text.h"
#include "core/board/board_json.h"
#include "core/board/net_paths.h"

using namespace eh;

namespace {

BoardImport netlist(const std::string& text) {
    std::istringstream file(text);
    auto read = read_ipc356(file, "test.ipc");
    REQUIRE(read.ok());
    return std::move(read).value();
}

bool remarks_on(const BoardImport& found, std::uint64_t line, const std::string& words) {
    return std::any_of(found.remarks.begin(), found.remarks.end(), [&](const BoardRemark& remark) {
        return remark.line == line && remark.text.find(words) != std::string::npos;
    });
}

const char* small_board =
    "C  a comment\r\n"
    "P  JOB   Something invented\r\n"
    "P  UNITS CUST 0\r\n"
    "P  NNAME1   A_NET_WITH_A_VERY_LONG_NAME\r\n"
    "317GND              R1    -1    D0280PA00X+010000Y+020000X0600Y0000R000 S3\r\n"
    "327NNAME1           R1    -2          A01X+011000Y+020000X0300Y0500R000 S3\r\n"
    "327N/C              U1    -A12        A02X-000100Y+020000X0300Y0500R000 S0\r\n"
    "378GND              L01 X0100 X010000Y020000\r\n"
    "317GND              VIA   -     D0120PA00X+010500Y+020500X0240Y0000R000 S3\r\n"
    "999\r\n";

}  // namespace

TEST_CASE("a netlist gives nets, parts and places, whatever its line ends", "[board]") {
    for (const bool crlf : {true, false}) {
        std::string text = small_board;
        if (!crlf)
            text.erase(std::remove(text.begin(), text.end(), '\r'), text.end());
        const BoardImport found = netlist(text);
        CHECK(found.records == 4);
        CHECK(found.remarks.empty());
        const BoardMap& map = found.map;
        CHECK(map.title == "Something invented");
        CHECK(map.nets().size() == 2);
        CHECK(map.parts().size() == 2);
        const int gnd = map.find_net("gnd");
        REQUIRE(gnd != no_index);
        CHECK(map.net(gnd).pads.size() == 2);
        REQUIRE(map.find_net("A_NET_WITH_A_VERY_LONG_NAME") != no_index);
        const Pad& first = map.pad(0);
        // 0.0001 inch are 2.54 um.
        CHECK(first.place->x_mm == Approx(25.4));
        CHECK(first.place->y_mm == Approx(50.8));
        CHECK(first.drill_mm == Approx(0.7112));
        CHECK(first.width_mm == Approx(1.524));
        CHECK(first.height_mm == Approx(1.524));
        CHECK(first.side == BoardSide::both);
        CHECK(map.pad(1).side == BoardSide::top);
        CHECK(map.pad(2).side == BoardSide::bottom);
        CHECK(map.pad(2).net == no_index);
        CHECK(map.pad(2).pin == "A12");
        CHECK(map.pad(2).place->x_mm == Approx(-0.254));
        CHECK(map.pad(3).part == no_index);
    }
    // The same numbers in thousandths of a millimetre.
    std::string metric = small_board;
    metric.replace(metric.find("CUST 0"), 6, "CUST 1");
    CHECK(netlist(metric).map.pad(0).place->x_mm == Approx(10.0));
}

TEST_CASE("what a line cannot give is remarked with its number, and the rest is kept", "[board]") {
    const BoardImport found = netlist(
        "P  UNITS FURLONGS\n"
        "317GND              R1    -1    D0280PA00X+0100000Y+020000X0600Y0000R000 S3\n"
        "317GND\n"
        "317FOURTEEN_LETTE   R2    -1    D0280PA00\n"
        "555what is this\n"
        "327GND              R1    -1          A01X+011000Y+020000X0300Y0500R000 S3\n"
        "327GND              R3    -1          A01X+9999999Y+020000X0300Y0500R000 S3\n"
        "327GND              R4    -1          A01Xnowhere\n");
    CHECK(found.records == 5);
    CHECK(remarks_on(found, 1, "FURLONGS"));
    CHECK(remarks_on(found, 2, "longer than their field"));
    CHECK(found.map.pad(0).place->x_mm == Approx(254.0));
    CHECK(remarks_on(found, 3, "ends after 6 columns"));
    CHECK(remarks_on(found, 4, "no coordinates"));
    CHECK(remarks_on(found, 5, "no record of a netlist"));
    CHECK(remarks_on(found, 6, "two parts may have one name"));
    CHECK(remarks_on(found, 7, "longer than their field"));
    CHECK(remarks_on(found, 8, "cannot be read"));
    CHECK(remarks_on(found, 8, "999"));
    CHECK(remarks_on(found, 4, "fills its field"));
    CHECK(found.map.net(found.map.find_net("FOURTEEN_LETTE")).may_be_several);
    std::istringstream empty("C nothing but a header\nP  UNITS CUST 0\n999\n");
    CHECK_FALSE(read_ipc356(empty, "empty").ok());
}

TEST_CASE("random bytes never crash the netlist reader", "[board]") {
    Random random(21);
    for (int i = 0; i < 3000; ++i) {
        std::string text = small_board;
        for (int k = 0; k < 6; ++k)
            text[static_cast<std::size_t>(random.below(static_cast<int>(text.size())))] =
                static_cast<char>(random.below(256));
        std::istringstream file(text);
        const auto found = read_ipc356(file, "fuzz");
        if (found.ok()) {
            for (const Pad& pad : found->map.pads())
                CHECK((!pad.place || std::isfinite(pad.place->x_mm)));
        }
    }
}

TEST_CASE("a board in the program's own format is written and read as the same", "[board]") {
    BoardImport found = netlist(small_board);
    found.map.set_fitted(found.map.find_part("R1"), false);
    const std::vector<BoardPicture> pictures{
        {"front.jpg",
         BoardSide::bottom,
         {{{1, 2}, {3, 4}}, {{100, 2}, {30, 4}}, {{100, 80}, {30, 24}}, {{1, 80}, {3, 24}}}}};
    const auto with_picture = parse_board(write_board(found.map, pictures), "pictures");
    REQUIRE(with_picture.ok());
    CHECK(with_picture->pictures == pictures);
    const std::string written = write_board(found.map);
    const auto again = parse_board(written, "again");
    REQUIRE(again.ok());
    CHECK(write_board(again->map) == written);
    CHECK_FALSE(again->map.part(again->map.find_part("r1")).fitted);
    CHECK(again->map.pads().size() == found.map.pads().size());
    for (const char* bad :
         {"{", "{}", R"({"format": "eager-hound.board/2", "pads": []})",
          R"({"format": "eager-hound.board/1", "pads": []})",
          R"({"format": "eager-hound.board/1", "pads": [{"x_mm": 1e9, "y_mm": 0}]})",
          R"({"format": "eager-hound.board/1", "pads": [{"x_mm": 1}]})",
          R"({"format": "eager-hound.board/1", "pads": [{"side": "left"}]})",
          R"({"format": "eager-hound.board/1", "pads": [{"part": "R1"}], "not_fitted": ["R2"]})"}) {
        CAPTURE(bad);
        CHECK_FALSE(parse_board(bad, "bad").ok());
    }
}

TEST_CASE("what is near a point is what a search through everything finds", "[board]") {
    Random random(2);
    BoardMap map;
    for (int i = 0; i < 3000; ++i) {
        Pad pad;
        pad.net = map.net_named("n" + std::to_string(random.below(200)));
        pad.part = map.part_named("P" + std::to_string(random.below(400)));
        pad.place = Point{200.0 * random.uniform() - 50.0, 100.0 * random.uniform() - 20.0};
        pad.side = static_cast<BoardSide>(random.below(3));
        map.add_pad(pad);
    }
    map.index();
    for (int trial = 0; trial < 200; ++trial) {
        const Point at{200.0 * random.uniform() - 50.0, 100.0 * random.uniform() - 20.0};
        const double radius_mm = 12.0 * random.uniform();
        const auto side = random.below(2) == 0 ? BoardSide::top : BoardSide::bottom;
        std::set<int> wanted;
        for (std::size_t p = 0; p < map.pads().size(); ++p) {
            if (distance_mm(*map.pads()[p].place, at) <= radius_mm && reachable(map.pads()[p].side, side))
                wanted.insert(static_cast<int>(p));
        }
        const auto found = map.near(at, radius_mm, side);
        CHECK(std::set<int>(found.begin(), found.end()) == wanted);
        CHECK(std::is_sorted(found.begin(), found.end(), [&](int a, int b) {
            return distance_mm(*map.pad(a).place, at) < distance_mm(*map.pad(b).place, at);
        }));
    }
    const auto like = map.nets_like("N1", 5);
    REQUIRE(like.size() == 5);
    CHECK(map.net(like[0]).name == "n1");
}

TEST_CASE("a rail goes on over inductors, beads, fuses and what is named, and not over ground", "[board]") {
    BoardMap map;
    const auto pin = [&](const char* part, const char* number, const char* net) {
        Pad pad;
        pad.part = map.part_named(part);
        pad.pin = number;
        pad.net = map.net_named(net);
        map.add_pad(pad);
    };
    const auto two = [&](const char* part, const char* a, const char* b) {
        pin(part, "1", a);
        pin(part, "2", b);
    };
    two("F1", "vbus", "vin");
    two("L1", "vin", "sw");
    two("R5", "vin", "chg");
    two("L9", "chg", "far");
    two("R6", "vin", "gnd");
    two("C1", "vin", "gnd");
    two("FB3", "lonely", "other");
    map.index();
    const auto names = [&](const std::vector<NetReach>& reached) {
        std::set<std::string> all;
        for (const NetReach& reach : reached)
            all.insert(map.net(reach.net).name);
        return all;
    };
    const int vbus = map.find_net("vbus");
    CHECK(names(nets_reached(map, vbus, [&](int part) { return carries_on(map, part); })) ==
          std::set<std::string>{"vbus", "vin", "sw"});
    const int sense = map.find_part("R5");
    const auto with_sense =
        nets_reached(map, vbus, [&](int part) { return part == sense || carries_on(map, part); });
    CHECK(names(with_sense) == std::set<std::string>{"vbus", "vin", "sw", "chg", "far"});
    CHECK(with_sense.back().hops == 3);
    map.set_fitted(map.find_part("F1"), false);
    CHECK(nets_reached(map, vbus, [&](int part) { return carries_on(map, part); }).size() == 1);
}

// Two example boards of Debian's pcb-common, written as IPC-D-356 by two PCB editors of Debian's; what the
// boards' own files say of parts, pins, nets and places stands beside them (scripts/export_reference_boards).
TEST_CASE("netlists of two PCB editors are read as the boards' own files have them", "[board][pcb]") {
    const std::filesystem::path folder = EH_SOURCE_DIR "/tests/data/boards";
    for (const std::string name : {"LED", "tut1"}) {
        std::ifstream text(folder / (name + ".json"));
        const auto board = nlohmann::json::parse(text);
        REQUIRE(board["pins"].size() > 100);
        for (const std::string editor : {"pcb", "pcb-rnd"}) {
            CAPTURE(name, editor);
            const auto found = read_board(folder / (name + "-" + editor + ".ipc"));
            REQUIRE(found.ok());
            const BoardMap& map = found->map;
            std::set<std::string> parts;
            for (const BoardPart& part : map.parts())
                parts.insert(part.name);
            CHECK(parts == board["parts"].get<std::set<std::string>>());
            std::set<std::string> nets;
            for (const BoardNet& net : map.nets())
                nets.insert(net.name);
            CHECK(nets == board["nets"].get<std::set<std::string>>());
            int missing = 0;
            for (const auto& pin : board["pins"]) {
                const int part = map.find_part(pin["part"].get<std::string>());
                REQUIRE(part != no_index);
                const auto& pads = map.part(part).pads;
                const auto same = std::find_if(pads.begin(), pads.end(), [&](int pad) {
                    return map.pad(pad).pin == pin["pin"].get<std::string>();
                });
                if (same == pads.end()) {
                    ++missing;
                    continue;
                }
                REQUIRE(map.pad(*same).place);
                const Point place{pin["x_mm"].get<double>(), pin["y_mm"].get<double>()};
                CHECK(distance_mm(*map.pad(*same).place, place) < 0.05);
            }
            CHECK(missing == 0);
            const auto of_parts = std::count_if(map.pads().begin(), map.pads().end(),
                                                [](const Pad& pad) { return pad.part != no_index; });
            CHECK(static_cast<std::size_t>(of_parts) == board["pins"].size());
        }
    }
}

TEST_CASE("bytes that are no UTF-8 are read as Latin-1, with a remark, and nothing throws",
          "[board][hostile]") {
    for (const char* file : {"board-net-latin1.d356", "board-net-utf8-cut.d356", "board-job-latin1.d356",
                             "board-remark-cut-utf8.d356"}) {
        CAPTURE(file);
        const auto board = read_board(std::string(EH_SOURCE_DIR "/tests/data/hostile/") + file);
        REQUIRE(board.ok());
        for (const BoardRemark& remark : board->remarks)
            CHECK(is_utf8(remark.text));
        CHECK(is_utf8(board->map.title));
        CHECK(is_utf8(write_board(board->map)));
        CHECK(parse_board(write_board(board->map), "again").ok());
    }
    const auto board = read_board(EH_SOURCE_DIR "/tests/data/hostile/board-net-latin1.d356");
    CHECK(board->map.net(0).name.find("\xC3\x84") != std::string::npos);  // A with two dots
    CHECK(std::any_of(board->remarks.begin(), board->remarks.end(), [](const BoardRemark& remark) {
        return remark.text.find("Latin-1") != std::string::npos;
    }));
}

TEST_CASE("references that fill their field and missing units are remarked", "[board][hostile]") {
    const auto board = read_board(EH_SOURCE_DIR "/tests/data/hostile/board-ref-fills-field.d356");
    REQUIRE(board.ok());
    CHECK(std::any_of(board->remarks.begin(), board->remarks.end(), [](const BoardRemark& remark) {
        return remark.text.find("CONN_A") != std::string::npos &&
               remark.text.find("fills") != std::string::npos;
    }));
    std::istringstream unitless("327NET1             R1    -1          A01X+001000Y+001000\n999\n");
    const auto other = read_ipc356(unitless, "board.d356");
    REQUIRE(other.ok());
    CHECK(std::any_of(other->remarks.begin(), other->remarks.end(), [](const BoardRemark& remark) {
        return remark.text.find("units") != std::string::npos;
    }));
}
