// SPDX-License-Identifier: GPL-3.0-or-later
// Alloys and mixtures: handbook temperatures, freezing-point depression, and what must never be mixed.
#include "core/rework/alloy.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/rework.h"

using namespace eh;

namespace {

const AlloyBook& book() {
    return test::rework().alloys;
}

const Alloy& alloy(const char* id) {
    const Alloy* found = book().find(id);
    REQUIRE(found != nullptr);
    return *found;
}

double atomic_mass(Metal metal) {
    // Standard atomic weights (IUPAC).
    switch (metal) {
        case Metal::tin:
            return 118.71;
        case Metal::lead:
            return 207.2;
        case Metal::silver:
            return 107.87;
        case Metal::copper:
            return 63.55;
        case Metal::bismuth:
            return 208.98;
    }
    return 0.0;
}

}  // namespace

TEST_CASE("alloys melt where the handbooks say", "[rework][alloy]") {
    // J-STD-006 class alloys, from memory: 183, 217-220 and 138 °C; tin-lead-silver 179.
    CHECK(alloy("sn63pb37").liquidus_c == 183.0);
    CHECK(alloy("sac305").solidus_c == 217.0);
    CHECK(alloy("sac305").liquidus_c == 220.0);
    CHECK(alloy("sn42bi58").solidus_c == 138.0);
    CHECK(alloy("sn62pb36ag2").solidus_c == 179.0);
    for (const Alloy& each : book().alloys) {
        CAPTURE(each.id);
        CHECK(each.solidus_c <= each.liquidus_c);
        CHECK_FALSE(each.source.empty());
    }
}

TEST_CASE("little of a metal lowers the melting of tin as van 't Hoff says", "[rework][alloy]") {
    // Freezing-point depression of a dilute solution: R T^2 x / H, with tin's heat of fusion 7.03 kJ/mol at
    // 505.08 K (CRC handbook, from memory), for metals that tin does not dissolve when solid (lead, silver
    // and copper hardly). Bismuth dissolves in solid tin, so that it lowers less: that is an upper bound.
    const double kelvin_per_mole_share = 8.314 * 505.08 * 505.08 / 7030.0;
    for (const auto& [metal, share] : {std::pair{Metal::lead, 0.08},
                                       {Metal::silver, 0.03},
                                       {Metal::copper, 0.007},
                                       {Metal::bismuth, 0.1}}) {
        const double moles = share / atomic_mass(metal);
        const double mole_share = moles / (moles + (1.0 - share) / atomic_mass(Metal::tin));
        const double ideal = kelvin_per_mole_share * mole_share;
        const double table = 232.0 - binary_liquidus_c(book(), metal, share);
        CAPTURE(to_text(metal), share, ideal, table);
        CHECK(table < 1.3 * ideal);
        CHECK(table > (metal == Metal::bismuth ? 0.5 : 0.7) * ideal);
    }
}

TEST_CASE("the liquidus of tin and lead is that of the standard solders", "[rework][alloy]") {
    // Melting ranges of solders as ASTM B32 and J-STD-006 print them, from memory: 50/50 to 216, 60/40 to 191
    // °C.
    CHECK(binary_liquidus_c(book(), Metal::lead, 0.50) == Approx(216.0).margin(0.5));
    CHECK(binary_liquidus_c(book(), Metal::lead, 0.40) == Approx(191.0).margin(0.5));
    CHECK(binary_liquidus_c(book(), Metal::lead, 0.0) == Approx(232.0));
    // It falls to the eutectic and rises after it: no straight line between the melting points does that.
    double before = 233.0;
    for (double share = 0.0; share <= 0.38; share += 0.01) {
        const double here = binary_liquidus_c(book(), Metal::lead, share);
        CAPTURE(share);
        CHECK(here < before);
        before = here;
    }
    CHECK(binary_liquidus_c(book(), Metal::lead, 0.45) > 195.0);
    // A straight line from tin (232) to lead (327) would give 267 °C for 63/37 and never less than 232.
    CHECK(binary_liquidus_c(book(), Metal::lead, 0.37) < 190.0);
}

TEST_CASE("bismuth on lead is refused and says why", "[rework][alloy]") {
    for (const char* lead : {"sn63pb37", "sn60pb40", "sn62pb36ag2"}) {
        for (const char* bismuth : {"sn42bi58", "sn42bi57ag1"}) {
            const auto mixed = mix(book(), alloy(lead), alloy(bismuth), 0.05);
            REQUIRE_FALSE(mixed.ok());
            CHECK(mixed.error().message.find("96 °C") != std::string::npos);
            CHECK_FALSE(mix(book(), alloy(bismuth), alloy(lead), 0.5).ok());
            // Clean pads are another matter.
            CHECK(mix(book(), alloy(lead), alloy(bismuth), 0.0).ok());
        }
    }
}

TEST_CASE("a joint of two alloys softens at the lowest eutectic of its metals", "[rework][alloy]") {
    const auto mixed = mix(book(), alloy("sac305"), alloy("sn63pb37"), 0.5);
    REQUIRE(mixed.ok());
    // Lead with tin, silver and copper: about 177 °C (from memory of lead-free rework studies).
    CHECK(mixed->solidus_c == Approx(177.0).margin(2.0));
    CHECK(mixed->liquidus_c > mixed->solidus_c);
    CHECK(mixed->liquidus_c < 220.0);
    double sum = 0.0;
    for (const double share : mixed->shares)
        sum += share;
    CHECK(sum == Approx(1.0));
    CHECK(mixed->shares[static_cast<std::size_t>(Metal::lead)] == Approx(0.185));
    // Mostly old lead-free solder: a paste over a wide range, and the sentence says so.
    const auto pasty = mix(book(), alloy("sac305"), alloy("sn63pb37"), 0.8);
    REQUIRE(pasty.ok());
    CHECK(pasty->liquidus_c - pasty->solidus_c > 15.0);
    CHECK(pasty->says.find("paste") != std::string::npos);
}

TEST_CASE("mixing is the same seen from either side and ends at the pure alloys", "[rework][alloy]") {
    for (const Alloy& a : book().alloys)
        for (const Alloy& b : book().alloys)
            for (const double share : {0.1, 0.35, 0.5}) {
                const auto ab = mix(book(), a, b, share);
                const auto ba = mix(book(), b, a, 1.0 - share);
                CAPTURE(a.id, b.id, share);
                REQUIRE(ab.ok() == ba.ok());
                if (!ab.ok())
                    continue;
                CHECK(ab->liquidus_c == Approx(ba->liquidus_c));
                CHECK(ab->solidus_c <= ab->liquidus_c);
                CHECK(ab->solidus_c <= std::max(a.solidus_c, b.solidus_c));
            }
    CHECK(mix(book(), alloy("sac305"), alloy("sn63pb37"), 0.0)->liquidus_c == 183.0);
    CHECK(mix(book(), alloy("sac305"), alloy("sn63pb37"), 1.0)->liquidus_c == 220.0);
    CHECK_FALSE(mix(book(), alloy("sac305"), alloy("sn63pb37"), 1.2).ok());
    CHECK_FALSE(mix(book(), alloy("sac305"), alloy("sn63pb37"), std::nan("")).ok());
}

TEST_CASE("an alloy file says what is wrong and where", "[rework][alloy]") {
    const auto refusal = [](const std::string& alloy_text) {
        const auto parsed = parse_alloys(R"({"format":"eager-hound.alloys/1","alloys":[)" + alloy_text +
                                             R"(],"liquidus":[],"eutectics":[]})",
                                         "mine.json");
        REQUIRE_FALSE(parsed.ok());
        return parsed.error().text();
    };
    const std::string rest = R"("id":"x","title":"X","gains":"","costs":"","source":"me")";
    CHECK(refusal("{" + rest + R"(,"percent":{"tin":90},"solidus_c":200,"liquidus_c":210})")
              .find("100 percent") != std::string::npos);
    CHECK(refusal("{" + rest + R"(,"percent":{"tin":50,"gold":50},"solidus_c":200,"liquidus_c":210})")
              .find("gold") != std::string::npos);
    CHECK(refusal("{" + rest + R"(,"percent":{"tin":100},"solidus_c":240,"liquidus_c":210})").find("below") !=
          std::string::npos);
    CHECK(refusal("{" + rest + R"(,"percent":{"tin":100},"solidus_c":-5,"liquidus_c":210})")
              .find("solidus_c") != std::string::npos);
}
