// SPDX-License-Identifier: GPL-3.0-or-later
// CC pins as resistors, against the specification's ranges.
#include "core/usbc/cc_line.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <limits>

#include "core/base/random.h"

using namespace eh;

namespace {
constexpr SourceCurrent all_currents[] = {SourceCurrent::usb_default, SourceCurrent::amps_1_5,
                                          SourceCurrent::amps_3};
}

TEST_CASE("every Rp of the specification with its tolerance lands in the sink's range over Rd", "[usbc]") {
    // USB Type-C specification, release 2: Rp to 5 V within 20 % (default) or 5 %, current sources within 20
    // % (default) or 8 %; Rd 5.1 k within 10 %; VBUS-fed 5 V from 4.75 to 5.5 V (from memory). What the sink
    // sees: 0.25-0.61, 0.70-1.16, 1.31-2.04 V.
    for (const SourceCurrent current : all_currents) {
        CAPTURE(to_text(current));
        const double current_share = current == SourceCurrent::usb_default ? 0.2 : 0.08;
        const VoltRange range = sink_range(current);
        for (const double rd : {0.9 * rd_ohms, rd_ohms, 1.1 * rd_ohms}) {
            for (const double sign : {-1.0, 0.0, 1.0}) {
                CcPullUp by_current = current_source_of(current);
                by_current.amps *= 1.0 + sign * current_share;
                CHECK(cc_volts(by_current, rd) > range.least);
                CHECK(cc_volts(by_current, rd) < range.most);
            }
            // Resistors are checked at their nominal values, against either supply.
            CHECK(advertised(cc_volts(pull_up_of(current), rd)) == current);
            CHECK(advertised(cc_volts(pull_up_of(current, 3.3), rd)) == current);
        }
    }
}

TEST_CASE("volts to ohms and back are inverse, for resistors and current sources", "[usbc]") {
    Random random(4);
    for (int i = 0; i < 500; ++i) {
        const SourceCurrent current = all_currents[i % 3];
        const CcPullUp pull_up =
            i % 2 == 0 ? pull_up_of(current, i % 4 == 0 ? 5.0 : 3.3) : current_source_of(current);
        const double ohms = 100.0 * std::pow(10.0, 2.1 * random.uniform());
        const double volts = cc_volts(pull_up, ohms);
        if (volts >= 5.0)
            continue;  // the current source is at its supply: what pulls down is no longer seen
        REQUIRE(cc_ohms(pull_up, volts));
        CHECK(*cc_ohms(pull_up, volts) == Approx(ohms).epsilon(1e-9));
    }
    CHECK(std::isinf(cc_ohms(pull_up_of(SourceCurrent::amps_3), 5.0).value()));
    CHECK_FALSE(cc_ohms(pull_up_of(SourceCurrent::amps_3), 5.1));
    CHECK_FALSE(cc_ohms(pull_up_of(SourceCurrent::amps_3), -0.1));
    CHECK(cc_volts(pull_up_of(SourceCurrent::amps_3), std::numeric_limits<double>::infinity()) == 5.0);
}

TEST_CASE("two CC volts say whether a charger is seen, which way up, and what is wrong", "[usbc]") {
    const double at_rd = cc_volts(pull_up_of(SourceCurrent::amps_3), rd_ohms);
    const CcFinding up = read_cc(at_rd, 0.0);
    CHECK(up.state == CcState::attached);
    CHECK(up.line == 1);
    CHECK(up.current == SourceCurrent::amps_3);
    const CcFinding down = read_cc(0.02, cc_volts(current_source_of(SourceCurrent::amps_1_5), rd_ohms));
    CHECK(down.line == 2);
    CHECK(down.current == SourceCurrent::amps_1_5);
    CHECK(read_cc(0.0, 0.0).state == CcState::nothing);
    CHECK(read_cc(4.9, 0.0).state == CcState::open);
    CHECK(read_cc(3.28, 0.0).state == CcState::open);
    CHECK(read_cc(1.6, 1.6).state == CcState::both_pulled);
    CHECK(read_cc(1.25, 0.0).state == CcState::between);
    for (const double ra : {ra_least_ohms, 1000.0, ra_most_ohms})
        CHECK(read_cc(0.0, cc_volts(current_source_of(SourceCurrent::amps_1_5), ra)).state ==
              CcState::ra_instead_rd);
    for (double volts = 0.0; volts < 5.5; volts += 0.01)
        CHECK_FALSE(read_cc(volts, 0.0).says.empty());
}
