// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/entry/amount.h"

#include "core/base/random.h"

using namespace eh;

TEST_CASE("amounts are read with point or comma, and an empty field is no amount", "[job]") {
    CHECK(*parse_amount("120", "Price").value() == Approx(120.0));
    CHECK(*parse_amount("89,50", "Price").value() == Approx(89.5));
    CHECK(*parse_amount(" 0 ", "Price").value() == Approx(0.0));
    CHECK_FALSE(parse_amount("", "Price").value().has_value());
    CHECK_FALSE(parse_amount("  ", "Price").value().has_value());
}

TEST_CASE("what is no amount is refused and the sentence names the field", "[job]") {
    for (const char* text : {"abc", "-5", "12 V", "1e9", "2000000", "OL", "12 13", "nan", "inf"}) {
        CAPTURE(text);
        const auto parsed = parse_amount(text, "Estimate");
        REQUIRE_FALSE(parsed.ok());
        CHECK(parsed.error().place == "Estimate");
        CHECK_THAT(parsed.error().text(), Catch::Contains("89,50"));
    }
}

TEST_CASE("an amount written is read back to the cent", "[job]") {
    Random random(4);
    for (int i = 0; i < 200; ++i) {
        const double cents = std::floor(random.uniform() * 1e7);
        CHECK(*parse_amount(format_amount(cents / 100.0), "").value() == Approx(cents / 100.0).margin(1e-9));
    }
    CHECK(format_amount(std::nullopt).empty());
}
