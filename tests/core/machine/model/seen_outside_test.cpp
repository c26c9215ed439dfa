// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of machine by what is seen without opening them.
#include "core/machine/model/seen_outside.h"

#include <algorithm>

#include <catch2/catch.hpp>

#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

bool holds(const std::vector<const Topology*>& kinds, const std::string& id) {
    return std::any_of(kinds.begin(), kinds.end(), [&](const Topology* kind) { return kind->id == id; });
}

}  // namespace

TEST_CASE("every kind is among those that look as it does", "[machine][intake]") {
    for (const Topology& topology : shipped_knowledge().topologies) {
        CAPTURE(topology.id);
        CHECK(holds(kinds_seen_as(shipped_knowledge(), seen_of(shipped_knowledge(), topology)), topology.id));
    }
    CHECK(kinds_seen_as(shipped_knowledge(), {}).size() == shipped_knowledge().topologies.size());
}

TEST_CASE("inlets and the charger's label leave fewer kinds", "[machine][intake]") {
    const Knowledge& knowledge = shipped_knowledge();
    const auto two_ports = kinds_seen_as(knowledge, {2, OtherInlet::none, {}});
    CHECK(holds(two_ports, "usbc-dual"));
    CHECK(holds(two_ports, chained));
    CHECK_FALSE(holds(two_ports, "usbc-chained-magnetic"));
    CHECK_FALSE(holds(two_ports, "barrel-plus-usbc"));
    const auto jacks = kinds_seen_as(knowledge, {0, OtherInlet::round_jack, {}});
    CHECK(holds(jacks, "barrel-id"));
    CHECK(holds(jacks, "barrel-sense"));
    CHECK_FALSE(holds(jacks, "usbc-dual"));
    CHECK(holds(kinds_seen_as(knowledge, {{}, OtherInlet::any, 28.0}), "usbc-extended-range"));
    CHECK_FALSE(holds(kinds_seen_as(knowledge, {{}, OtherInlet::any, 28.0}), "usbc-dual"));
    CHECK(kinds_seen_as(knowledge, {7, OtherInlet::any, {}}).empty());
}

TEST_CASE("the likeliest kind is named only where all of them have the same inlets", "[machine][intake]") {
    const Knowledge& knowledge = shipped_knowledge();
    const auto two_ports = kinds_seen_as(knowledge, {2, OtherInlet::none, {}});
    const Topology* likeliest = likeliest_of(knowledge, two_ports);
    REQUIRE(likeliest != nullptr);
    for (const Topology* kind : two_ports)
        CHECK(likeliest->share >= kind->share);
    CHECK(likeliest_of(knowledge, kinds_seen_as(knowledge, {})) == nullptr);
    CHECK(likeliest_of(knowledge, {}) == nullptr);
    // A resistor or a chip answers on the ID line: the jacks take the same plug. One without a pin does not.
    const auto inlets = [&](const char* id) { return inlets_of(knowledge, topology(id)); };
    CHECK(inlets("barrel-id") == inlets("barrel-data"));
    CHECK(inlets("barrel-id") != inlets("barrel-sense"));
}

TEST_CASE("parts that only some of the kinds have are known as such", "[machine][intake]") {
    const auto has = [](const std::vector<std::string>& list, const std::string& id) {
        return std::find(list.begin(), list.end(), id) != list.end();
    };
    const auto unsure = parts_not_in_all(topology(chained), {&topology("usbc-dual")});
    CHECK(has(unsure, "pc1"));
    CHECK(has(unsure, "pup"));
    for (const char* common : {"rec1", "rec2", "sw1", "mem", "chg", "aon", "bat"})
        CHECK_FALSE(has(unsure, common));
    CHECK(parts_not_in_all(topology(chained), {&topology(chained)}).empty());
    CHECK(parts_not_in_all(topology(chained), {}).empty());
}
