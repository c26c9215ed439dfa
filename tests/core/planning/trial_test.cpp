// SPDX-License-Identifier: GPL-3.0-or-later
// A suspect is tested before its repair, a reading that fits nothing is taken again, and what the catalogue
// does not hold is found out (common practice: measure at the part before replacing it).
#include "core/planning/trial.h"

#include <algorithm>
#include <memory>

#include "core/inference/reasoner.h"
#include "core/planning/next_act.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Ranking ranked(const std::vector<Reading>& readings) {
    PredictionTable& table = shared_table(chained);
    return rank(table, priors_of(table.hypotheses()), readings);
}

NextStep step_of(const std::vector<Reading>& readings, const BenchConfiguration& now) {
    PredictionTable& table = shared_table(chained);
    const Ranking ranking = ranked(readings);
    prepare_candidates(table, ranking, readings, now);
    return next_acts(table, ranking, readings, now, shipped_costs());
}

double probability_of(const Ranking& ranking, HypothesisKind kind) {
    for (const PartSuspicion& part : ranking.parts) {
        if (part.kind == kind && part.block.empty())
            return part.probability;
    }
    return 0.0;
}

// The controllers' supply has no enable: both ports give 5 V and draw nothing, the peer line is dead.
std::vector<Reading> no_enable() {
    return {meter_reading("a", plugged("p1"), MeterPattern::steady, 5.05, 0.0),
            meter_reading("b", plugged("p2"), MeterPattern::steady, 5.05, 0.0),
            volts_reading("c", plugged("p1"), "pden", 0.01)};
}

BenchConfiguration open_case(BenchConfiguration configuration) {
    configuration.case_open = true;
    return configuration;
}

}  // namespace

TEST_CASE("a reading is at a part where it is taken at its pins, through it, or by its heat", "[trial]") {
    const MachinePlan& plan = shared_table(chained).plan();
    const int resistor = plan.find_block("enr");
    const BenchConfiguration now = plugged("p1");
    CHECK(is_at_part(ReadingKind::net_volts, "pden", now, plan, resistor));
    CHECK(is_at_part(ReadingKind::net_ohms, "pdin", now, plan, resistor));
    CHECK_FALSE(is_at_part(ReadingKind::net_volts, "vin", now, plan, resistor));
    CHECK_FALSE(is_at_part(ReadingKind::net_volts, "no such net", now, plan, resistor));
    CHECK_FALSE(is_at_part(ReadingKind::meter, "", now, plan, resistor));
    CHECK(is_at_part(ReadingKind::hot_part, "", now, plan, resistor));
    CHECK_FALSE(is_at_part(ReadingKind::hot_part, "", now, plan, plan.find_block("bat")));
    BenchConfiguration injected = for_ohms();
    injected.injection = Injection{"vbus1"};
    CHECK(is_at_part(ReadingKind::injection, "", injected, plan, plan.find_block("cv1")));
    CHECK_FALSE(is_at_part(ReadingKind::injection, "", injected, plan, plan.find_block("cv2")));

    // What a part says itself.
    CHECK(is_at_part(ReadingKind::firmware, "", now, plan, plan.mainboard));
    CHECK_FALSE(is_at_part(ReadingKind::firmware, "", now, plan, plan.find_block("bat")));
    CHECK(is_at_part(ReadingKind::talk, "", now, plan, plan.find_block("pc1")));
    CHECK_FALSE(is_at_part(ReadingKind::talk, "", now, plan, plan.find_block("pc2")));

    std::vector<Reading> readings{volts_reading("a", now, "pden", 0.0), volts_reading("b", now, "pden", 0.0),
                                  ohms_reading("c", for_ohms(), "pden", 1e4)};
    CHECK(readings_at_part(readings, plan, resistor) == 2);
    readings.back().set_aside = true;
    CHECK(readings_at_part(readings, plan, resistor) == 1);
}

TEST_CASE("what is nearly certain is measured at its own pins before the heat", "[trial]") {
    const MachinePlan& plan = shared_table(chained).plan();
    const BenchConfiguration now = open_case(plugged("p1"));
    // Two ports that give 5 V, and the core supply of one controller missing, its capacitor taken off.
    BenchConfiguration without_its_capacitor = now;
    without_its_capacitor.removed = {"oc1"};
    std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 5.05, 0.03),
                                  meter_reading("b", plugged("p2"), MeterPattern::steady, 5.05, 0.03),
                                  volts_reading("c", without_its_capacitor, "ldo1", 0.0),
                                  volts_reading("d", plugged("p1"), "ldo2", 1.8),
                                  volts_reading("e", plugged("p1"), "vcc1", 3.28)};
    REQUIRE(ranked(readings).parts.front().probability >= shipped_costs().repair_due_probability);
    const NextStep step = step_of(readings, now);
    CHECK_FALSE(step.repair_due);
    REQUIRE(step.acts.front().on_trial);
    const NextAct& trial = step.acts.front();
    const int leader = plan.find_block(ranked(readings).parts.front().block);
    CHECK(is_at_part(trial.reading, trial.place, trial.configuration, plan, leader));
    CHECK_FALSE(trial.tells.empty());

    readings.push_back(ohms_reading("f", for_ohms(), "vcc1", 13500.0));
    const NextStep then = step_of(readings, now);
    REQUIRE(then.repair_due);
    CHECK(then.acts.front().fault == FaultInstance{"controller_dead", "pc1"});
}

TEST_CASE("an effect that is not in the catalogue is found at the suspect's pins", "[trial]") {
    auto readings = no_enable();
    CHECK(probability_of(ranked(readings), HypothesisKind::none_of_these) < 0.1);
    // Something pulls the enable to ground: no part that could stands there.
    readings.push_back(ohms_reading("d", for_ohms(), "pden", 60.0));
    readings.push_back(ohms_reading("e", for_ohms(), "pden", 61.0));
    const Ranking ranking = ranked(readings);
    CHECK(ranking.parts.front().kind == HypothesisKind::none_of_these);
}

TEST_CASE("a reading that fits nothing is taken again, twice at most", "[trial]") {
    const BenchConfiguration now = open_case(plugged("p1"));
    auto readings = no_enable();
    const Reading odd = ohms_reading("d", for_ohms(), "pden", 60.0);
    readings.push_back(odd);
    REQUIRE(ranked(readings).odd.size() == 1);
    CHECK(ranked(readings).odd.front().reading_id == "d");
    const NextStep step = step_of(readings, now);
    CHECK_FALSE(step.repair_due);
    REQUIRE(step.acts.front().again);
    CHECK(step.acts.front().reading == ReadingKind::net_ohms);
    CHECK(step.acts.front().place == "pden");
    // A net that comes first leaves the others where they are.
    const auto others = std::count_if(step.acts.begin() + 1, step.acts.end(), [&](const NextAct& act) {
        const bool of_a_net = act.reading == ReadingKind::net_volts || act.reading == ReadingKind::net_ohms;
        return of_a_net && act.place != step.acts.front().place;
    });
    CHECK(others >= 1);
    // Taken again it fits: the first was a slip, and there is nothing to take once more.
    readings.push_back(open_reading("e", for_ohms(), "pden"));
    readings.push_back(open_reading("f", for_ohms(), "pden"));
    CHECK_FALSE(step_of(readings, now).acts.front().again);
}

TEST_CASE("ordinary readings do not rule out what the catalogue does not hold", "[trial]") {
    std::vector<Reading> readings;
    const double before = probability_of(ranked(readings), HypothesisKind::none_of_these);
    for (const char* port : {"p1", "p2"}) {
        readings.push_back(meter_reading(port, plugged(port), MeterPattern::steady, 19.9, 2.0));
        CHECK(probability_of(ranked(readings), HypothesisKind::none_of_these) > 0.5 * before);
        CHECK(probability_of(ranked(readings), HypothesisKind::none_of_these) < 2.0 * before);
    }
}

TEST_CASE("what a sound machine shows is explained by nothing wrong, and an absurd reading by nothing",
          "[trial]") {
    PredictionTable& table = shared_table(chained);
    const auto sound =
        std::find_if(table.hypotheses().begin(), table.hypotheses().end(),
                     [](const Hypothesis& h) { return h.kind == HypothesisKind::nothing_wrong; });
    const auto number = static_cast<std::size_t>(sound - table.hypotheses().begin());
    const auto view = table.powered(plugged("p1"));
    const PoweredView& seen = (*view)[number].front();
    const Reading usual =
        meter_reading("a", plugged("p1"), seen.meter.pattern, seen.meter.volts, seen.meter.amps);
    CHECK(unexplained_readings(table, {usual})[number] == 0);
    const auto absurd = unexplained_readings(table, {volts_reading("c", plugged("p1"), "core", 19.0)});
    CHECK(*std::min_element(absurd.begin(), absurd.end()) == 1);
}

TEST_CASE("a table over more hypotheses takes over what is known of the first", "[trial]") {
    PredictionTable& shared = shared_table(chained);
    const auto first = std::make_shared<PredictionTable>(shared.store(), shared.hypotheses());
    auto hypotheses = shared.hypotheses();
    hypotheses.push_back(
        {HypothesisKind::fault, {{"capacitor_shorted", "cv1"}, {"enable_open", "enr"}}, 0.01});
    PredictionTable taking_over(first, hypotheses);
    PredictionTable plain(shared.store(), hypotheses);
    for (const BenchConfiguration& configuration : {plugged("p1"), plugged("p2", PlugSide::b)}) {
        REQUIRE(first->powered(configuration) != nullptr);
        const auto a = taking_over.powered(configuration);
        const auto b = plain.powered(configuration);
        REQUIRE(a->size() == b->size());
        for (std::size_t h = 0; h < a->size(); ++h) {
            if (hypotheses[h].kind != HypothesisKind::none_of_these)
                CHECK(&(*a)[h] == &(*b)[h]);
            const auto& of_a = (*a->net_volts(3))[h];
            const auto& of_b = (*b->net_volts(3))[h];
            REQUIRE(of_a.size() == of_b.size());
            CHECK(
                std::equal(of_a.begin(), of_a.end(), of_b.begin(), [](const Expected& x, const Expected& y) {
                    return x.value == y.value && x.common_width == y.common_width &&
                           x.own_width == y.own_width;
                }));
        }
    }
    const auto ohms = taking_over.ohms(for_ohms(), 2);
    CHECK(ohms->size() == hypotheses.size());
    for (std::size_t h = 0; h < hypotheses.size(); ++h)
        CHECK(ohms->expected()[h].size() == (*ohms)[h].size());
}
