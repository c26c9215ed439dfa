// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/work.h"

#include <catch2/catch.hpp>
#include <set>

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
