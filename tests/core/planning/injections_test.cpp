// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/injections.h"

#include <algorithm>

#include "core/planning/next_act.h"
#include "core/planning/off_numbers.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr const char* fed = "usbc-dual";

NextStep step_with_shorts(const std::vector<Reading>& readings, const BenchConfiguration& now) {
    PredictionTable& table = shared_table(fed);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    prepare_candidates(table, ranking, readings, now);
    NextOptions all;
    all.most = 1000;
    return next_acts(table, ranking, readings, now, shipped_costs(), all);
}

bool strained(const std::vector<Reading>& readings, const BenchConfiguration& now) {
    PredictionTable& table = shared_table(fed);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    prepare_candidates(table, ranking, readings, now);
    return power_would_strain(table, ranking, now);
}

std::size_t first_where(const NextStep& step, bool (*holds)(const NextAct&)) {
    return static_cast<std::size_t>(std::find_if(step.acts.begin(), step.acts.end(), holds) -
                                    step.acts.begin());
}

}  // namespace

TEST_CASE("nothing is fed into a net whose ohms nobody measured", "[next][inject]") {
    // Common practice: ohms first; what they name is fed.
    const std::vector<Reading> tripping{meter_reading("a", plugged("p1"), MeterPattern::cycling, 12.0, 1.5),
                                        meter_reading("b", plugged("p2"), MeterPattern::cycling, 12.0, 1.5)};
    const auto injects = [](const NextAct& act) { return act.reading == ReadingKind::injection; };
    const NextStep unmeasured = step_with_shorts(tripping, plugged("p2"));
    CHECK(std::none_of(unmeasured.acts.begin(), unmeasured.acts.end(), injects));
    std::vector<Reading> measured = tripping;
    measured.push_back(ohms_reading("c", for_ohms(), "vin", 0.4));
    BenchConfiguration open = for_ohms();
    open.port = "p2";
    const NextStep step = step_with_shorts(measured, open);
    CHECK(std::any_of(step.acts.begin(), step.acts.end(), injects));
    for (const NextAct& act : step.acts) {
        if (injects(act))
            CHECK(act.configuration.injection->net == "vin");
    }
    Reading doubted = measured.back();
    CHECK(was_measured({doubted}, "vin"));
    doubted.set_aside = true;
    CHECK_FALSE(was_measured({doubted}, "vin"));
}

TEST_CASE("power waits where a net that the charger feeds is likelier shorted than not", "[next][inject]") {
    const BenchConfiguration now = plugged("p2");
    CHECK_FALSE(strained({}, now));
    CHECK_FALSE(strained({meter_reading("a", now, MeterPattern::steady, 20.0, 1.9)}, now));
    const std::vector<Reading> tripping{meter_reading("a", plugged("p1"), MeterPattern::cycling, 12.0, 1.5),
                                        meter_reading("b", now, MeterPattern::cycling, 12.0, 1.5)};
    CHECK(strained(tripping, now));
    const NextStep step = step_with_shorts(tripping, now);
    REQUIRE_FALSE(step.acts.empty());
    const std::size_t ohms =
        first_where(step, [](const NextAct& act) { return act.reading == ReadingKind::net_ohms; });
    const std::size_t meter = first_where(step, [](const NextAct& act) {
        return !act.repair && act.reading == ReadingKind::meter && feeds_machine(act.configuration);
    });
    CHECK(ohms < meter);
}

TEST_CASE("the probability of a short lies between none and all, and a low reading brings it up",
          "[next][inject]") {
    PredictionTable& table = shared_table(fed);
    const auto& nets = table.plan().topology().nets;
    const BenchConfiguration off = measured_off(for_ohms());
    for (std::size_t n = 0; n < nets.size(); ++n)
        table.ohms(off, static_cast<int>(n));
    const auto of = [&](const std::vector<Reading>& readings) {
        return short_probabilities(table, rank(table, priors_of(table.hypotheses()), readings), off);
    };
    const std::vector<double> before = of({});
    const std::vector<double> after = of({ohms_reading("a", for_ohms(), "vin", 0.4)});
    REQUIRE(before.size() == nets.size());
    for (std::size_t n = 0; n < nets.size(); ++n) {
        CAPTURE(nets[n].id);
        CHECK(before[n] >= 0.0);
        CHECK(after[n] <= 1.0 + 1e-9);
        if (nets[n].id == "vin") {
            CHECK(before[n] < 0.5);
            CHECK(after[n] > 0.75);
        }
    }
}
