// SPDX-License-Identifier: GPL-3.0-or-later
// Volts of a net that rise and fall between two ends.
#include <cmath>

#include "core/entry/quick_line.h"
#include "core/inference/likelihood.h"
#include "core/readings/reading_json.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Reading alternating(double high, double low) {
    Reading reading;
    reading.id = "r1";
    reading.configuration = plugged("p1");
    reading.value = NetVoltsReading{"main", high, low};
    return reading;
}

PoweredView with_mean(MeterPattern pattern, float volts) {
    PoweredView view;
    view.valid = true;
    view.meter.pattern = pattern;
    view.net_volts = std::vector<float>{volts};
    view.net_ohms = std::vector<float>{0.1F};
    return view;
}

double log_of(const Reading& reading, const PoweredView& view) {
    return log_likelihoods(reading, {view}, 0, -1, AccuracyOptions{}, {}).front();
}

}  // namespace

TEST_CASE("two volts of a net are the ends between which it rises and falls", "[alternates]") {
    const auto entry = parse_quick_line("main 0.4v 12.2v", topology(chained), plugged("p1"));
    REQUIRE(entry.ok());
    CHECK(*entry->reading.as<NetVoltsReading>() == NetVoltsReading{"main", 12.2, 0.4});
    CHECK_THAT(entry->echo, Catch::Contains("rises and falls between"));
    const auto three = parse_quick_line("main 0.4v 12.2v 3v", topology(chained), plugged("p1"));
    REQUIRE_FALSE(three.ok());
    CHECK_THAT(three.error().text(), Catch::Contains("too many"));
    // Ends that are none.
    CHECK_FALSE(parse_quick_line("main 12v 12v", topology(chained), plugged("p1")).ok());
    CHECK_FALSE(check_plausible(alternating(3.0, 5.0), "r1").ok());
    CHECK_FALSE(check_plausible(alternating(3.0, -4000.0), "r1").ok());
}

TEST_CASE("a net that rises and falls speaks for a machine that does not come to rest", "[alternates]") {
    const Reading seen = alternating(8.4, 0.3);
    const PoweredView cycles = with_mean(MeterPattern::cycling, 3.1F);
    const PoweredView stands = with_mean(MeterPattern::steady, 8.4F);
    const PoweredView down = with_mean(MeterPattern::steady, 0.2F);
    CHECK(log_of(seen, cycles) > log_of(seen, stands) + std::log(5.0));
    // A converter that tries again is taken for one that stays down: less odd than beside one that stands.
    CHECK(log_of(seen, down) > log_of(seen, stands) + std::log(2.0));
    CHECK(log_of(seen, cycles) > log_of(seen, down));
    // A mean outside of its ends is not that of the net.
    CHECK(log_of(seen, with_mean(MeterPattern::cycling, 17.0F)) < log_of(seen, cycles) - std::log(3.0));
}
