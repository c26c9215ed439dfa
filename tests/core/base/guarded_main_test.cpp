// SPDX-License-Identifier: GPL-3.0-or-later
// What leaves a program's own code ends in an exit code (common practice: a shell sees 134 after an abort).
#include "core/base/guarded_main.h"

#include <catch2/catch.hpp>
#include <stdexcept>

using namespace eh;

TEST_CASE("a program ends with what it gives back, and with 1 after what nobody caught", "[base]") {
    CHECK(guarded_main("test", [] { return 7; }) == 7);
    CHECK(guarded_main("test", []() -> int { throw std::runtime_error("no such thing"); }) == 1);
    CHECK(guarded_main("test", []() -> int { throw 5; }) == 1);
}
