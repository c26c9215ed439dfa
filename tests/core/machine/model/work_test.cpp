// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/work.h"

#include <catch2/catch.hpp>
#include <set>

#include "core/machine/model/fault_reach.h"
#include "tests/support/shop.h"

using namespace eh;

TEST_CASE("every kind of work has a word of its own, and the word means it", "[work]") {
    std::set<std::string> words;
    for (int w = 0; w < work_count; ++w) {
        const auto work = static_cast<Work>(w);
        CAPTURE(to_text(work));
        CHECK(words.insert(to_text(work)).second);
        CHECK(work_from(to_text(work)) == work);
        // Doing it does it; its kind does too, and is a kind of its own.
        CHECK(does_the_work_of(work, work));
        CHECK(does_the_work_of(kind_of_work(work), work));
        CHECK(kind_of_work(kind_of_work(work)) == kind_of_work(work));
    }
    CHECK_FALSE(work_from("dance").has_value());
    CHECK_FALSE(work_from("Replace").has_value());
}

TEST_CASE("what leaves the part as it was does no other work, and no other work does it", "[work]") {
    for (int a = 0; a < work_count; ++a) {
        for (int b = 0; b < work_count; ++b) {
            const auto done = static_cast<Work>(a);
            const auto wanted = static_cast<Work>(b);
            if (done != wanted && (leaves_the_part(done) || leaves_the_part(wanted)))
                CHECK_FALSE(does_the_work_of(done, wanted));
        }
    }
}

TEST_CASE("every remedy of the catalogue is work that is known", "[work]") {
    for (const FaultSpec& fault : test::shipped_knowledge().catalogue.faults) {
        CAPTURE(fault.id);
        for (const Remedy& remedy : fault.remedies)
            CHECK(remedy.act != Work::none);
    }
}

TEST_CASE("work is said as an order and as done, and means the same kinds", "[work]") {
    std::set<std::string> orders;
    std::set<std::string> done;
    for (int w = 1; w < work_count; ++w) {
        CHECK(orders.insert(to_order(static_cast<Work>(w))).second);
        CHECK(done.insert(to_past(static_cast<Work>(w))).second);
    }
    CHECK(to_order(Work::none).empty());
    CHECK(to_past(Work::none).empty());
}

TEST_CASE("work with one remedy leaves whatever else may ail the part", "[work]") {
    using namespace eh::test;
    const auto left = [](const std::string& fault, const std::string& block, Work work) {
        BenchConfiguration bench = plugged("p1");
        note_work(bench, block, work);
        return still_there(block, *shipped_knowledge().catalogue.find(fault), bench);
    };
    CHECK_FALSE(left("battery_connector", "bat", Work::reseat));
    CHECK(left("battery_dead", "bat", Work::reseat));
    CHECK_FALSE(left("receptacle_cc_dirty", "rec1", Work::clean));
    CHECK(left("receptacle_worn", "rec1", Work::clean));
    CHECK_FALSE(left("firmware_stuck", "mb", Work::reset));
    CHECK(left("mainboard_no_start", "mb", Work::reset));
    // A new part brings none of the old one's faults, and may have been fitted badly.
    CHECK_FALSE(left("receptacle_worn", "rec1", Work::replace));
    CHECK(left("receptacle_refit_cc", "rec1", Work::replace));
    CHECK_FALSE(left("receptacle_refit_cc", "rec1", Work::clean));
    // A reflow and an explanation prove nothing.
    CHECK(left("controller_dead", "pc1", Work::reflow));
    CHECK(left("battery_full", "bat", Work::explain));
}

TEST_CASE("a joint of the rework is gone once it was soldered again", "[work]") {
    using namespace eh::test;
    BenchConfiguration bench = plugged("p1");
    note_work(bench, "rec1", Work::replace);
    note_work(bench, "rec1", Work::resolder);
    CHECK_FALSE(still_there("rec1", *shipped_knowledge().catalogue.find("receptacle_refit_cc"), bench));
    CHECK_FALSE(still_there("rec1", *shipped_knowledge().catalogue.find("receptacle_worn"), bench));
}

TEST_CASE("what hangs lets go when all power is cut, and nothing else does", "[work]") {
    using namespace eh::test;
    BenchConfiguration bench = unpowered(plugged("p1"));
    CHECK(all_power_is_cut(bench));
    bench = plugged_as_usual(bench);
    const FaultCatalogue& catalogue = shipped_knowledge().catalogue;
    for (const FaultSpec& fault : catalogue.faults) {
        if (!fault.refit)
            CHECK(still_there("any", fault, bench) == !fault.until_power_cut);
    }
    // Battery out with the charger in cuts nothing.
    bench = plugged("p1");
    bench.battery_in = false;
    CHECK_FALSE(plugged_as_usual(bench).power_was_cut);
}
