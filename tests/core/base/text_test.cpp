// Small texts.
#include <catch2/catch.hpp>

#include "core/base/text.h"

using namespace eh;

TEST_CASE("Numbers in texts are as printf writes them, and cut rather than written beyond their room") {
    CHECK(number_text("%.3g V", 19.53) == "19.5 V");
    CHECK(whole_text(216.7) == "217");
    CHECK(percent_text(0.368) == "37 %");
    CHECK(number_text("%.0f", 1e200).size() == 63);
}

TEST_CASE("Small letters leave everything but A to Z alone") {
    CHECK(lower_case("VBUS_C1 Ünit Ω") == "vbus_c1 Ünit Ω");
    CHECK(lower_case("").empty());
}
