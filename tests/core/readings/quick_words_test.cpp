// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/quick_words.h"

#include <algorithm>
#include <catch2/catch.hpp>

#include "core/base/random.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("a line is cut at its spaces and put together again", "[quickline][words]") {
    CHECK(split_words("").empty());
    CHECK(split_words("  \t ").empty());
    CHECK(split_words(" p2   vbus\t3r3 ") == Words{"p2", "vbus", "3r3"});
    CHECK(joined({}).empty());
    CHECK(joined({"p2", "vbus", "3r3"}) == "p2 vbus 3r3");
    Random random(3);
    for (int round = 0; round < 200; ++round) {
        Words words;
        for (int w = random.below(6); w > 0; --w)
            words.push_back(std::string(static_cast<std::size_t>(1 + random.below(5)),
                                        static_cast<char>('a' + random.below(26))));
        CHECK(split_words(joined(words)) == words);
    }
}

TEST_CASE("a word is taken out once, in whatever letters", "[quickline][words]") {
    Words words{"HOT", "pc2", "hot", "+30"};
    CHECK(take_word(words, "hot"));
    CHECK(words.size() == 3);
    CHECK(take_word(words, "hot"));
    CHECK_FALSE(take_word(words, "hot"));
    CHECK(words == Words{"pc2", "+30"});
}

TEST_CASE("values are taken in their order, units that stand apart joined on", "[quickline][words]") {
    Words words{"p1", "12.6", "v", "30", "mA", "ol", "4k7"};
    const auto values = take_values(words);
    REQUIRE(values.size() == 4);
    CHECK(values[0].quantity.value == Approx(12.6));
    CHECK(values[0].quantity.unit == Unit::volts);
    CHECK(values[1].quantity.value == Approx(0.03));
    CHECK(values[1].quantity.unit == Unit::amps);
    CHECK(values[2].quantity.over_limit);
    // IEC 60062: the letter in the place of the point.
    CHECK(values[3].quantity.value == Approx(4700.0));
    CHECK(words == Words{"p1"});
}

TEST_CASE("a net is found by each of its names, the longest first", "[quickline][words]") {
    for (const Topology& machine : shipped_knowledge().topologies) {
        for (const Net& net : machine.nets) {
            for (const std::string& name : names_of(net)) {
                CAPTURE(machine.id, name);
                Words words = split_words(name);
                words.push_back("3r3");
                const auto found = find_net_and_values(words, machine);
                REQUIRE(found);
                CHECK(found->net->id == net.id);
                REQUIRE(found->values.size() == 1);
                CHECK(found->values.front().quantity.value == Approx(3.3));
            }
        }
    }
    CHECK_FALSE(find_net_and_values({"nowhere", "3r3"}, topology(chained)));
    CHECK_FALSE(find_net_and_values({}, topology(chained)));
}

TEST_CASE("a part is found by its id and by its title, in any order of words", "[quickline][words]") {
    for (const Block& block : topology(chained).blocks) {
        CAPTURE(block.id, block.title);
        const auto by_id = find_block({block.id}, topology(chained));
        REQUIRE(by_id.ok());
        CHECK((*by_id)->id == block.id);
        Words words = split_words(block.title);
        std::reverse(words.begin(), words.end());
        const auto by_title = find_block(words, topology(chained));
        REQUIRE(by_title.ok());
        CHECK((*by_title)->title == block.title);
    }
    const auto nobody = find_block({"nobody"}, topology(chained));
    REQUIRE_FALSE(nobody.ok());
    CHECK_THAT(nobody.error().message, Catch::Contains("nobody"));
    CHECK_FALSE(find_block({}, topology(chained)).ok());
}

TEST_CASE("plugging in names the port, and side A of another port", "[quickline][words]") {
    QuickInput typed{{}, topology(chained), plugged("p1", PlugSide::b)};
    typed.bench.charger_connected = false;
    typed.plug_into("p1", std::nullopt);
    CHECK(typed.bench.charger_connected);
    CHECK(typed.bench.side == PlugSide::b);
    typed.plug_into("p2", std::nullopt);
    CHECK(typed.bench.port == "p2");
    CHECK(typed.bench.side == PlugSide::a);
    typed.plug_into("p2", PlugSide::b);
    CHECK(typed.bench.side == PlugSide::b);
}
