// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/why_first.h"

#include "core/planning/contingency.h"
#include "core/planning/repair_act.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

const MachinePlan& plan() {
    return shared_table(barrel).plan();
}

NextAct reading(ReadingKind kind, double bits, double minutes) {
    NextAct act;
    act.reading = kind;
    act.place = kind == ReadingKind::look ? "jack" : "";
    act.configuration = plugged("p1");
    act.bits = bits;
    act.minutes = minutes;
    return act;
}

}  // namespace

TEST_CASE("what stands first says what it tells apart, and what would tell more", "[next][why]") {
    NextStep step;
    CHECK(why_first(step, plan()).empty());
    step.acts = {reading(ReadingKind::meter, 0.4, 1.0), reading(ReadingKind::look, 0.9, 9.0)};
    step.acts.front().told_apart =
        ToldApart{{"jack", HypothesisKind::fault}, {"", HypothesisKind::nothing_wrong}};
    const std::string why = why_first(step, plan());
    CHECK_THAT(why, Catch::StartsWith("It tells " + part_title(plan(), "jack") + " from nothing wrong."));
    CHECK_THAT(why, Catch::Contains("would tell more, and takes 8 min more."));
    // An act that tells no more is not the obvious other one.
    step.acts.back().bits = 0.3;
    CHECK_THAT(why_first(step, plan()), !Catch::Contains("would tell more"));
}

TEST_CASE("a repair, a test and a second try say what they are", "[next][why]") {
    NextStep step;
    step.acts = {reading(ReadingKind::meter, 0.4, 1.0)};
    step.acts.front().on_trial = true;
    CHECK_THAT(why_first(step, plan()), Catch::Contains("before the repair"));
    step.acts.front().again = true;
    CHECK_THAT(why_first(step, plan()), Catch::Contains("fitted nothing"));
    step.acts.front().repair = true;
    CHECK_THAT(why_first(step, plan()), Catch::Contains("would change the choice"));
    step.acts.front().because = DueBecause::seen_broken;
    CHECK_THAT(why_first(step, plan()), Catch::Contains("seen broken"));
}

TEST_CASE("what was seen broken is repaired before a part that is likelier by a hair", "[next][why]") {
    // Trade notes, section 8 (common practice): a receptacle that looks burnt is changed whatever its lead
    // is.
    const auto party = [](const std::string& block, double suspicion, double minutes) {
        Party one;
        one.kind = HypothesisKind::fault;
        one.block = block;
        one.suspicion = suspicion;
        one.repair_minutes = minutes;
        return one;
    };
    Parties parties;
    parties.list = {party("lead", 0.93, 1.0), party("rec1", 0.92, 70.0), party("rec2", 0.3, 70.0)};
    const auto broken = [](const std::string& block) { return block == "rec1" || block == "rec2"; };
    CHECK(up_for_repair(parties, broken).block == "rec1");
    CHECK(up_for_repair(parties, [](const std::string&) { return false; }).block == "lead");
    // Not where it is suspected of little: many parts look worn.
    parties.list[1].suspicion = 0.4;
    CHECK(up_for_repair(parties, broken).block == "lead");
}

TEST_CASE("a repair is due for a reason, and not while a reading saves minutes", "[next][why]") {
    const BenchCosts costs = shipped_costs();
    BenchConfiguration bench = plugged("p1");
    Party party;
    party.kind = HypothesisKind::fault;
    const auto due = [&](double suspicion, bool broken, bool any_taken, double saving, double bits) {
        party.suspicion = suspicion;
        NextAct act = reading(ReadingKind::meter, bits, 1.0);
        act.saving_minutes = saving;
        return why_due(party, plan(), bench, broken, any_taken, {act}, costs);
    };
    CHECK(due(0.85, true, true, 9.0, 1.0) == DueBecause::seen_broken);
    CHECK(due(0.99, false, true, 9.0, 1.0) == DueBecause::certain);
    CHECK(due(costs.repair_due_probability, false, true, 0.0, 1.0) == DueBecause::nothing_saves);
    CHECK(due(0.4, false, true, 0.0, 0.01) == DueBecause::nothing_left);
    // What is plugged in is changed earlier than what is soldered.
    CHECK_FALSE(due(0.87, false, true, 0.0, 1.0));
    party.block = "bat";
    CHECK_FALSE(due(0.87, false, true, 0.0, 1.0));  // the case is closed
    bench.case_open = true;
    CHECK(due(0.87, false, true, 0.0, 1.0) == DueBecause::nothing_saves);
    CHECK_FALSE(due(0.87, false, true, 9.0, 1.0));
    party.block = "";
    // A chip taken off for a reading costs what the repair costs; a small part is lifted and measured.
    party.repair_minutes = 55.0;
    const auto due_beside_lift = [&](double minutes) {
        party.suspicion = 0.4;
        NextAct act = reading(ReadingKind::net_ohms, 0.3, minutes);
        act.configuration.removed = {"pc1"};
        return why_due(party, plan(), bench, false, true, {act}, costs);
    };
    CHECK(due_beside_lift(45.0) == DueBecause::nothing_left);
    CHECK_FALSE(due_beside_lift(20.0));
    CHECK_FALSE(due_beside_lift(8.0));
    // Before the first reading, and while one saves or tells something, it is not.
    CHECK_FALSE(due(0.4, false, false, 0.0, 0.01));
    CHECK_FALSE(due(costs.repair_due_probability, false, true, 9.0, 1.0));
    CHECK_FALSE(due(0.4, false, true, 0.0, 1.0));
}

TEST_CASE("two suspects whose outcomes differ are told apart, and two that show the same are not",
          "[next][why]") {
    Parties parties;
    for (const char* block : {"jack", "bat", "chg"}) {
        Party party;
        party.block = block;
        parties.list.push_back(party);
    }
    parties.probability = {0.5, 0.3, 0.2};
    parties.of_hypothesis = {0, 1, 2};
    parties.p_hypothesis = parties.probability;
    const auto told = [&](const OutcomeShares& jack, const OutcomeShares& bat, const OutcomeShares& chg) {
        Contingency table(parties);
        table.add(0, jack);
        table.add(1, bat);
        table.add(2, chg);
        table.finish(0.0);
        CHECK(table.deciding_bits() <= table.bits() + 1e-12);
        CHECK(table.deciding_bits() >= 0.5 * table.bits() - 1e-12);
        return table.told_apart();
    };
    const auto apart = told({1.0, 0.0}, {0.0, 1.0}, {1.0, 0.0});
    REQUIRE(apart);
    CHECK(apart->first.block == "jack");
    CHECK(apart->second.block == "bat");
    CHECK_FALSE(told({0.4, 0.6}, {0.4, 0.6}, {0.4, 0.6}));
    // Of two that are told apart, the likelier ones are named.
    const auto likelier = told({1.0, 0.0}, {0.0, 1.0}, {0.0, 1.0});
    REQUIRE(likelier);
    CHECK(likelier->second.block == "bat");
}

TEST_CASE("which of the others it is decides little while one suspect leads clearly", "[next][why]") {
    Parties parties;
    parties.list.resize(3);
    parties.probability = {0.9, 0.05, 0.05};
    parties.of_hypothesis = {0, 1, 2};
    parties.p_hypothesis = parties.probability;
    Contingency on_the_leading(parties);
    on_the_leading.add(0, {1.0, 0.0});
    on_the_leading.add(1, {0.0, 1.0});
    on_the_leading.add(2, {0.0, 1.0});
    on_the_leading.finish(0.0);
    // Whether it is the leading one: all of it counts.
    CHECK(on_the_leading.deciding_bits() == Approx(on_the_leading.bits()).epsilon(1e-6));
    Contingency on_the_others(parties);
    on_the_others.add(0, {0.5, 0.5});
    on_the_others.add(1, {1.0, 0.0});
    on_the_others.add(2, {0.0, 1.0});
    on_the_others.finish(0.0);
    CHECK(on_the_others.deciding_bits() < 0.2 * on_the_others.bits());
}
