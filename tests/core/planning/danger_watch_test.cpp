// SPDX-License-Identifier: GPL-3.0-or-later
// No power into what is burnt or shorted at the inlet: common practice of the trade.
#include "core/planning/danger_watch.h"

#include "core/machine/knowledge/load_knowledge.h"
#include "core/planning/next_act.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Reading look_reading(const std::string& part, Look seen) {
    Reading reading;
    reading.id = "look " + part;
    reading.configuration = for_ohms();
    reading.value = LookReading{part, seen};
    return reading;
}

std::vector<DangerFound> found(const std::vector<Reading>& taken, const BenchConfiguration& now) {
    return dangers_found(shared_table(barrel).plan(), taken, now);
}

NextStep proposed_after(const std::vector<Reading>& readings, const BenchConfiguration& now) {
    PredictionTable& table = shared_table(barrel);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    prepare_candidates(table, ranking, readings, now);
    NextOptions options;
    options.most = 100;
    return next_acts(table, ranking, readings, now, shipped_costs(), options);
}

}  // namespace

TEST_CASE("nothing is plugged into a burnt jack until it was changed", "[next][danger]") {
    const BenchConfiguration now = plugged("p1");
    const std::vector<Reading> burnt{meter_reading("a", now, MeterPattern::steady, 18.6, 1.2),
                                     look_reading("jack", Look::burnt)};
    const NextStep step = proposed_after(burnt, now);
    REQUIRE(step.dangers.size() == 1);
    CHECK(step.dangers.front().place == "jack");
    CHECK(step.dangers.front().port == "p1");
    for (const NextAct& act : step.acts) {
        CAPTURE(describe(act, shared_table(barrel).plan()));
        CHECK((act.repair || !act.configuration.charger_connected || is_by_eye(act.reading) ||
               act.reading == ReadingKind::through || act.reading == ReadingKind::net_ohms));
    }
    BenchConfiguration changed = now;
    changed.replaced = {"jack"};
    CHECK(found(burnt, changed).empty());
    std::vector<Reading> not_counted = burnt;
    not_counted.back().set_aside = true;
    CHECK(found(not_counted, now).empty());
    CHECK(found({look_reading("jack", Look::dirty)}, now).empty());
}

TEST_CASE("a burnt plug of the customer's goes into no port, the shop's own may", "[next][danger]") {
    const auto dangers = found({look_reading("lead_barrel", Look::burnt)}, plugged("p1"));
    REQUIRE(dangers.size() == 1);
    BenchConfiguration own = plugged("p1");
    own.charger = own.lead = Owner::customer;
    CHECK(forbidding(dangers, own) != nullptr);
    own.charger_connected = false;
    CHECK(forbidding(dangers, own) == nullptr);
    CHECK(forbidding(dangers, plugged("p1")) == nullptr);
}

TEST_CASE("a swollen pack and a wet part keep all power away, a bridged inlet its own port",
          "[next][danger]") {
    const auto flaw_at = [](const std::string& part, Flaw flaw) {
        Reading reading = look_reading(part, look_of(flaw));
        reading.value = LookReading{part, look_of(flaw), flaw};
        return reading;
    };
    const auto reach_of = [&](const std::string& part, Flaw flaw) {
        const auto dangers = found({flaw_at(part, flaw)}, plugged("p1"));
        return dangers.empty() ? std::nullopt : std::optional(dangers.front().danger->keeps_power_from);
    };
    CHECK(reach_of("bat", Flaw::swollen) == KeepsPowerFrom::machine);
    CHECK(reach_of("cv1", Flaw::wet) == KeepsPowerFrom::machine);
    CHECK(reach_of("jack", Flaw::bridged) == KeepsPowerFrom::port);
    CHECK(reach_of("jack", Flaw::melted) == KeepsPowerFrom::port);  // counts as burnt
    CHECK_FALSE(reach_of("bat", Flaw::worn));
    // What is found looking over the whole board counts as well.
    Reading board = look_reading("cv1", Look::corroded);
    board.value = BoardLookReading{{{"cv1", Look::corroded, Flaw::wet}}};
    CHECK_FALSE(found({board}, plugged("p1")).empty());
}

TEST_CASE("a short at the inlet keeps the charger out while the same parts are on the board",
          "[next][danger]") {
    const std::vector<Reading> shorted{ohms_reading("a", for_ohms(), "vdc", 0.4)};
    CHECK(forbidding(found(shorted, plugged("p1")), plugged("p1")) != nullptr);
    BenchConfiguration lifted = plugged("p1");
    lifted.removed = {"sp1"};
    CHECK(found(shorted, lifted).empty());
    // The last reading counts, and many ohms are no short.
    std::vector<Reading> gone = shorted;
    gone.push_back(open_reading("b", for_ohms(), "vdc"));
    CHECK(found(gone, plugged("p1")).empty());
    CHECK(found({ohms_reading("a", for_ohms(), "vdc", 40.0)}, plugged("p1")).empty());
}

TEST_CASE("dangers that are not told clearly are refused with their place", "[next][danger]") {
    const auto& kinds = shipped_knowledge().kinds;
    const auto refused_for = [&](const std::string& fields) {
        const auto dangers = parse_dangers(
            R"({"format":"eager-hound.dangers/1","dangers":[{"id":"x","reason":"r","instead":"i",)" + fields +
                "}]}",
            "dangers.json", kinds);
        return dangers.ok() ? std::string() : dangers.error().text();
    };
    CHECK(refused_for(R"("keeps_power_from":"port","seen":"burnt","kinds":["barrel_jack"])").empty());
    CHECK_THAT(refused_for(R"("keeps_power_from":"port")"), Catch::Contains("by one of them"));
    CHECK(refused_for(R"("keeps_power_from":"machine","flaw":"wet")").empty());
    CHECK_THAT(refused_for(R"("keeps_power_from":"machine","flaw":"wet","seen":"burnt","kinds":["flex"])"),
               Catch::Contains("by one of them"));
    CHECK_THAT(refused_for(R"("keeps_power_from":"machine","flaw":"grey")"), Catch::Contains("flaw"));
    CHECK_THAT(refused_for(R"("keeps_power_from":"moon","seen":"burnt","kinds":["barrel_jack"])"),
               Catch::Contains("keeps_power_from"));
    CHECK_THAT(refused_for(R"("keeps_power_from":"port","seen":"burnt","kinds":["teapot"])"),
               Catch::Contains("teapot"));
    CHECK_THAT(refused_for(R"("keeps_power_from":"port","stage":"inlet","below_ohms":-1)"),
               Catch::Contains("below_ohms"));
}
