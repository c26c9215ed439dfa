// SPDX-License-Identifier: GPL-3.0-or-later
// Cheap work that is tried for what comes of it: common practice, before anything is soldered.
#include "core/planning/tried_work.h"

#include <algorithm>
#include <set>

#include "core/planning/next_act.h"
#include "core/planning/parties.h"
#include "core/planning/why_first.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

struct Stage {
    PredictionTable& table = shared_table(chained);
    std::vector<Reading> readings;
    BenchConfiguration now = plugged("p1");

    [[nodiscard]] Ranking ranking() const { return rank(table, priors_of(table.hypotheses()), readings); }
    [[nodiscard]] NextStep step() const {
        const Ranking ranked = ranking();
        prepare_candidates(table, ranked, readings, now);
        NextOptions options;
        options.most = 40;
        return next_acts(table, ranked, readings, now, shipped_costs(), options);
    }
    [[nodiscard]] double hangs() const {
        double sum = 0.0;
        const Ranking ranked = ranking();
        for (const Suspicion& suspicion : ranked.suspicions) {
            for (const FaultInstance& fault : table.hypotheses()[suspicion.hypothesis].faults)
                sum += table.plan().knowledge().catalogue.find(fault.fault)->until_power_cut
                           ? suspicion.probability
                           : 0.0;
        }
        return sum;
    }
};

// Contracts, and next to nothing flows.
Stage rests_at_20_volts() {
    Stage stage;
    stage.readings = {meter_reading("a", plugged("p1"), MeterPattern::steady, 20.0, 0.01),
                      meter_reading("b", plugged("p2"), MeterPattern::steady, 20.0, 0.01)};
    return stage;
}

BenchConfiguration after_a_cut(BenchConfiguration bench) {
    bench.power_was_cut = true;
    return bench;
}

const auto cuts_first = [](const NextAct& act) { return act.cut_power_first; };

}  // namespace

TEST_CASE("a machine that may hang has all its power cut, once", "[next][tried]") {
    Stage stage = rests_at_20_volts();
    const NextStep step = stage.step();
    const auto cut = std::find_if(step.acts.begin(), step.acts.end(), cuts_first);
    REQUIRE(cut != step.acts.end());
    CHECK((cut->reading == ReadingKind::meter || cut->reading == ReadingKind::firmware));
    CHECK(cut->configuration.power_was_cut);
    CHECK(cut->configuration.charger_connected);
    CHECK(cut->setup_minutes >= shipped_costs().cut_power_minutes);
    CHECK_THAT(describe(*cut, stage.table.plan()), Catch::StartsWith("Cut all power, then: "));
    stage.now = cut->configuration;
    const NextStep later = stage.step();
    CHECK(std::none_of(later.acts.begin(), later.acts.end(), cuts_first));
}

TEST_CASE("what works after all power was cut hung, and what does not is something else", "[next][tried]") {
    Stage stage = rests_at_20_volts();
    const double before = stage.hangs();
    Stage helped = stage;
    helped.readings.push_back(
        meter_reading("c", after_a_cut(plugged("p1")), MeterPattern::steady, 20.0, 1.9));
    CHECK(helped.hangs() > 0.5);
    CHECK(helped.hangs() > 3.0 * before);
    Stage stays = stage;
    stays.readings.push_back(
        meter_reading("c", after_a_cut(plugged("p1")), MeterPattern::steady, 20.0, 0.01));
    CHECK(stays.hangs() < 0.1 * before);
}

TEST_CASE("power that was cut for ohms need not be cut again", "[next][tried]") {
    Stage stage = rests_at_20_volts();
    stage.now = unpowered(stage.now);
    CHECK(plugged_as_usual(stage.now).power_was_cut);
    const NextStep step = stage.step();
    CHECK(std::none_of(step.acts.begin(), step.acts.end(), cuts_first));
}

TEST_CASE("work that is tried is cheap, cold and brings no new part", "[next][tried]") {
    const Stage stage = rests_at_20_volts();
    const auto& catalogue = stage.table.plan().knowledge().catalogue;
    for (const BenchConfiguration& tried : tried_work(stage.table, stage.ranking(), stage.now)) {
        CHECK(feeds_machine(tried));
        CHECK(tried.replaced == stage.now.replaced);
        CHECK(work_between(stage.now, tried).size() + (tried.power_was_cut ? 1 : 0) == 1);
        for (const Handling& work : work_between(stage.now, tried)) {
            CAPTURE(work.block, to_text(work.work));
            CHECK(has_one_remedy(work.work));
            CHECK((work.work != Work::resolder && work.work != Work::bridge));
            CHECK(setup_minutes(stage.now, tried, stage.table.plan(), shipped_costs()) > 0.0);
        }
    }
    CHECK(catalogue.find("controller_hung")->until_power_cut);
    CHECK_FALSE(catalogue.find("ec_dead")->until_power_cut);
}

TEST_CASE("once all that was suspected is put right, it is time to prove it", "[next][tried]") {
    Stage stage;
    // A limit that is set: full contract, the machine says why it does not charge.
    Reading says;
    says.id = "b";
    says.configuration = plugged("p1");
    says.value = FirmwareReading{FirmwareMessage::charge_limit};
    stage.readings = {meter_reading("a", plugged("p1"), MeterPattern::steady, 20.0, 0.7), says};
    const NextStep before = stage.step();
    CHECK_FALSE(before.all_put_right);
    note_work(stage.now, "bat", Work::change_setting);
    stage.readings.push_back(meter_reading("c", stage.now, MeterPattern::steady, 19.8, 2.2));
    says.id = "d";
    says.configuration = stage.now;
    says.value = FirmwareReading{FirmwareMessage::charging};
    stage.readings.push_back(says);
    BenchConfiguration twin = stage.now;
    twin.port = "p2";
    stage.readings.push_back(meter_reading("e", twin, MeterPattern::steady, 19.8, 2.2));
    const NextStep shown = stage.step();
    CHECK(shown.all_put_right);
    CHECK_FALSE(shown.repair_due);
    // Common practice: shown at each port, both ways up, and nothing is opened for more.
    REQUIRE_FALSE(shown.acts.empty());
    std::set<std::pair<std::string, PlugSide>> places{{"p1", PlugSide::a}, {"p2", PlugSide::a}};
    for (const NextAct& act : shown.acts) {
        CHECK(act.to_show);
        CHECK(act.reading == ReadingKind::meter);
        CHECK_FALSE(act.configuration.case_open);
        CHECK(places.emplace(act.configuration.port, act.configuration.side).second);
    }
    CHECK_THAT(why_first(shown, stage.table.plan()), Catch::Contains("show it"));
}

TEST_CASE("a cut of all power may have put all right, too", "[next][tried]") {
    Stage stage;
    stage.readings = {meter_reading("a", plugged("p1"), MeterPattern::steady, 20.0, 0.01),
                      meter_reading("b", plugged("p2"), MeterPattern::steady, 20.0, 0.01)};
    stage.now.power_was_cut = true;
    stage.readings.push_back(meter_reading("c", stage.now, MeterPattern::steady, 20.0, 1.9));
    const NextStep step = stage.step();
    CHECK(step.all_put_right);
    REQUIRE_FALSE(step.acts.empty());
    CHECK(step.acts.front().to_show);
}
