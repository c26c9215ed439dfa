// SPDX-License-Identifier: GPL-3.0-or-later
// Ohms taken again: open or not is no news the second time, but a slip is still found out.
#include "core/inference/repeats.h"

#include <catch2/catch.hpp>

#include "core/inference/ranking.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Reading ohms(const std::string& net, double value, bool over_limit, const std::string& id) {
    Reading reading;
    reading.id = id;
    reading.configuration.charger_connected = false;
    reading.configuration.battery_in = false;
    reading.value = NetOhmsReading{net, over_limit ? std::nullopt : std::optional(value)};
    return reading;
}

double probability_of(HypothesisKind kind, const std::vector<Reading>& readings) {
    PredictionTable& table = shared_table("usbc-dual");
    double sum = 0.0;
    for (const PartSuspicion& part : rank(table, priors_of(table.hypotheses()), readings).parts)
        sum += part.kind == kind ? part.probability : 0.0;
    return sum;
}

}  // namespace

TEST_CASE("what a sample accounted for the first time it accounts for again", "[diagnosis]") {
    const Reading open = ohms("vbus1", 0.0, true, "a");
    const Reading number = ohms("vbus1", 8e4, false, "b");
    SampleTerms likely;
    likely.known = true;
    likely.given = 0.2;  // of a net near the limit
    SampleTerms never = likely;
    never.given = 1e-9;  // of a short, when OL was seen
    const auto again = taken_again({likely, never}, open, open, {});
    CHECK(again[0].given > 0.9);
    CHECK(again[1].given < 1e-6);  // it was odd the first time, and is as odd the second
    // The other word than before is a slip, whatever the net.
    const auto other = taken_again({likely}, number, open, {});
    CHECK(other[0].given < 0.1);
    SampleTerms unknown;
    CHECK_FALSE(taken_again({unknown}, open, open, {})[0].known);
}

TEST_CASE("only the same net measured in the same way was measured before", "[diagnosis]") {
    const Reading first = ohms("vbus1", 3.3, false, "a");
    const Reading elsewhere = ohms("vbus2", 3.3, false, "b");
    Reading apart = first;
    apart.configuration.removed = {"sp1"};
    Reading open_case = first;
    open_case.configuration.case_open = true;
    const std::vector<const Reading*> earlier{&first, &elsewhere};
    CHECK(taken_before(earlier, ohms("vbus1", 3.2, false, "c")) == &first);
    CHECK(taken_before(earlier, open_case) == &first);
    CHECK(taken_before(earlier, apart) == nullptr);
    CHECK(taken_before(earlier, ohms("main", 3.2, false, "c")) == nullptr);
}

TEST_CASE("a look taken again is no news", "[diagnosis]") {
    // Found on a bench of another maker: a jack that looked worn and was not, looked at three times, counted
    // as three worn jacks.
    const auto look = [](const std::string& id, Look seen) {
        Reading reading;
        reading.id = id;
        reading.configuration = for_ohms();
        reading.configuration.port = "p1";
        reading.value = LookReading{"rec1", seen};
        return reading;
    };
    std::vector<Reading> readings{look("a", Look::broken)};
    PredictionTable& table = shared_table("usbc-dual");
    const auto suspicion_after = [&](const std::vector<Reading>& all) {
        return suspicion_of(rank(table, priors_of(table.hypotheses()), all), "rec1");
    };
    const double once = suspicion_after(readings);
    CHECK(once > 1.1 * suspicion_after({}));
    readings.push_back(look("b", Look::broken));
    readings.push_back(look("c", Look::broken));
    CHECK(suspicion_after(readings) == Approx(once).epsilon(0.02));
    // Another look than before does count.
    readings.push_back(look("d", Look::sound));
    CHECK(suspicion_after(readings) < once);
    // Whatever is plugged in; but not after the part was changed.
    Reading plugged_in = readings.front();
    plugged_in.configuration = plugged("p1");
    const std::vector<const Reading*> earlier{&readings.front()};
    CHECK(taken_before(earlier, plugged_in) == &readings.front());
    plugged_in.configuration.replaced = {"rec1"};
    CHECK(taken_before(earlier, plugged_in) == nullptr);
}

TEST_CASE("three readings near the limit do not prove an effect that nobody knows", "[diagnosis]") {
    const std::vector<Reading> once{ohms("vbus1", 8.31e4, false, "a")};
    const std::vector<Reading> thrice{once[0], ohms("vbus1", 8.24e4, false, "b"),
                                      ohms("vbus1", 8.33e4, false, "c")};
    const double first = probability_of(HypothesisKind::none_of_these, once);
    CHECK(probability_of(HypothesisKind::none_of_these, thrice) < 2.5 * first);
    // Three times open rules a short out as it did before.
    const std::vector<Reading> opens{ohms("vbus1", 0, true, "a"), ohms("vbus1", 0, true, "b"),
                                     ohms("vbus1", 0, true, "c")};
    PredictionTable& table = shared_table("usbc-dual");
    for (const PartSuspicion& part : rank(table, priors_of(table.hypotheses()), opens).parts) {
        if (part.block == "sp1")
            CHECK(part.probability < 0.02);
    }
}

TEST_CASE("a number that fits nothing and comes again speaks once for an effect that nobody knows",
          "[diagnosis]") {
    // Twelve volts on a net that carries 3.3 V: no fault of the catalogue makes them.
    Reading odd;
    odd.id = "a";
    odd.configuration.port = "p1";
    odd.value = NetVoltsReading{"aon3v3", 12.0};
    std::vector<Reading> once{odd};
    std::vector<Reading> often = once;
    for (const double volts : {12.03, 11.98, 12.01}) {
        odd.id += "a";
        odd.value = NetVoltsReading{"aon3v3", volts};
        often.push_back(odd);
    }
    const auto odds = [](const std::vector<Reading>& readings) {
        const double none = probability_of(HypothesisKind::none_of_these, readings);
        return none / (1.0 - none);
    };
    // The second says that it was no slip; weighed anew, the four would multiply to thousands.
    CHECK(odds(often) < 10.0 * odds(once));
    CHECK(odds(often) < 4.0 * odds({often[0], often[1]}));
    const double last = probability_of(HypothesisKind::none_of_these, often);
    // Three that differ are three effects.
    std::vector<Reading> wild = once;
    for (const double volts : {7.0, 17.0, 9.5}) {
        odd.id += "b";
        odd.value = NetVoltsReading{"aon3v3", volts};
        wild.push_back(odd);
    }
    CHECK(probability_of(HypothesisKind::none_of_these, wild) > last);
}

TEST_CASE("a number that comes again is no news, however narrowly a fault confines it", "[diagnosis]") {
    // A dead supply gives 0 V within a millivolt, an unknown effect anything: weighed afresh, each repeat of
    // a few millivolts would speak for whichever hypothesis has the narrower band there.
    Reading dead;
    dead.id = "a";
    dead.configuration.port = "p1";
    dead.value = NetVoltsReading{"aon3v3", 0.004};
    std::vector<Reading> readings{dead};
    PredictionTable& table = shared_table("usbc-dual");
    const auto parts_after = [&] { return rank(table, priors_of(table.hypotheses()), readings).parts; };
    const auto once = parts_after();
    for (const double volts : {0.004, 0.005, 0.003}) {
        dead.id += "a";
        dead.value = NetVoltsReading{"aon3v3", volts};
        readings.push_back(dead);
    }
    const auto often = parts_after();
    for (std::size_t i = 0; i < 3; ++i) {
        INFO(once[i].block);
        CHECK(often[i].block == once[i].block);
        CHECK(often[i].probability == Approx(once[i].probability).epsilon(0.1));
    }
}

TEST_CASE("the same number at the same place is told from another number, place or bench", "[diagnosis]") {
    const Reading first = ohms("vbus1", 3.3, false, "a");
    const std::vector<const Reading*> earlier{&first};
    CHECK(same_as_before(earlier, ohms("vbus1", 3.35, false, "b"), {}) == 0);
    CHECK(same_as_before(earlier, ohms("vbus1", 5.0, false, "b"), {}) == -1);
    CHECK(same_as_before(earlier, ohms("vbus1", 0.0, true, "b"), {}) == -1);
    CHECK(same_as_before(earlier, ohms("vbus2", 3.3, false, "b"), {}) == -1);
    Reading other = ohms("vbus1", 3.3, false, "b");
    other.configuration.removed = {"sp1"};
    CHECK(same_as_before(earlier, other, {}) == -1);
    CHECK(same_as_before({}, first, {}) == -1);
}
