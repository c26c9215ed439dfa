// SPDX-License-Identifier: GPL-3.0-or-later
// Pins that a block may leave out, and kinds that nothing can be wrong with.
#include <algorithm>
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("a charger whose enable is not wired works as before: machines described earlier stay as they are",
          "[knowledge]") {
    const std::string text = R"({"format": "eager-hound.topology/1", "id": "unwired", "based_on": "barrel-id",
        "title": "Unwired", "without": ["chg", "chgr", "chgen"],
        "add_blocks": [{"id": "chg2", "kind": "charger_circuit", "title": "Charger circuit",
                        "pins": {"in": "chgin", "out": "main"}}]})";
    const auto base =
        nlohmann::json::parse(*read_text_file(default_data_directory() / "topologies/barrel-id.json"));
    const auto parsed = parse_topology(text, "unwired", shipped_knowledge().kinds, shipped_knowledge().kit,
                                       [&](const std::string&) { return &base; });
    REQUIRE(parsed.ok());
    CHECK(parsed->find_block("chg2")->pins.at("enable") == "nc");
}

TEST_CASE("something can be wrong with every kind of part", "[knowledge]") {
    // A part without a fault is never a suspect, however plainly the readings point at it.
    const Knowledge& knowledge = shipped_knowledge();
    for (const BlockKind& kind : knowledge.kinds) {
        INFO(kind.id);
        CHECK(std::any_of(knowledge.catalogue.faults.begin(), knowledge.catalogue.faults.end(),
                          [&](const FaultSpec& fault) { return fault.kind == kind.id && !fault.refit; }));
    }
}
