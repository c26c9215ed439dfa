// SPDX-License-Identifier: GPL-3.0-or-later
// The demo's board against the model of the demo's machine.
#include "core/board/machine_match.h"
#include "core/machine/knowledge/load_knowledge.h"

#include "core/board/board_json.h"
#include "tests/support/shop.h"

using namespace eh;

namespace {

const BoardMap& demo_board() {
    static const BoardMap map = [] {
        auto read = read_board(default_data_directory() / "boards" / "demo-board.json");
        REQUIRE(read.ok());
        return std::move(std::move(read).value().map);
    }();
    return map;
}

std::string part_of_machine(const char* name) {
    const int part = demo_board().find_part(name);
    REQUIRE(part != no_index);
    const auto parts =
        machine_parts(demo_board(), part, test::shipped_knowledge(), test::topology(test::chained));
    return parts.empty() ? "" : parts.front()->id;
}

}  // namespace

TEST_CASE("nets of the board are the model's by any of their names", "[board]") {
    const Topology& machine = test::topology(test::chained);
    const BoardMap& map = demo_board();
    for (const Net& net : machine.nets) {
        const int on_board = board_net(map, net);
        if (on_board != no_index)
            CHECK(machine_net(map, on_board, machine)->id == net.id);
    }
    REQUIRE(machine_net(map, map.find_net("vin"), machine) != nullptr);
    CHECK(machine_net(map, map.find_net("vin"), machine)->id == "vin");
    CHECK(machine_net(map, map.find_net("bus_1"), machine) == nullptr);
}

TEST_CASE("parts of the board are the model's by their nets and letters", "[board]") {
    CHECK(part_of_machine("RS1") == "rs");
    CHECK(part_of_machine("UC1") == "chg");
    CHECK(part_of_machine("QB1") == "gate");
    // Any capacitor of the input's four stands for the model's one.
    const BoardMap& map = demo_board();
    int capacitors = 0;
    for (const int part : map.parts_on(map.find_net("vin"))) {
        if (map.part(part).name.front() != 'C')
            continue;
        ++capacitors;
        CHECK(part_of_machine(map.part(part).name.c_str()) == "cin");
    }
    CHECK(capacitors == 4);
}

TEST_CASE("twins differ in their numbers alone", "[board]") {
    const BoardMap& map = demo_board();
    const auto twins = twins_of(map, map.find_net("vbus1"));
    REQUIRE(twins.size() == 1);
    CHECK(map.net(twins.front()).name == "vbus2");
    CHECK(twins_of(map, map.find_net("vin")).empty());
    CHECK(twins_of(map, map.find_net("main")).empty());
}
