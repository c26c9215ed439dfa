// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers of the multimeter that are proposed with the machine off.
#include "core/planning/off_numbers.h"

#include <algorithm>

#include "core/planning/next_act.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

std::vector<NextAct> acts_after(const std::vector<Reading>& readings, const BenchConfiguration& now) {
    PredictionTable& table = shared_table(barrel);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    prepare_candidates(table, ranking, readings, now);
    NextOptions options;
    options.most = 60;
    return next_acts(table, ranking, readings, now, shipped_costs(), options).acts;
}

}  // namespace

TEST_CASE("ohms of the board are proposed without the bare plug that a reading before them needed",
          "[next]") {
    BenchConfiguration now = for_ohms();
    now.bare_plug = true;
    now.port = "p1";
    bool any = false;
    for (const NextAct& act : acts_after({meter_reading("a", plugged("p1"), MeterPattern::dark)}, now)) {
        if (act.reading == ReadingKind::net_ohms) {
            any = true;
            CHECK_FALSE(act.configuration.bare_plug);
        }
    }
    CHECK(any);
}

TEST_CASE("the contacts of a suspected jack are measured through a bare plug", "[next]") {
    const auto acts =
        acts_after({meter_reading("a", plugged("p1"), MeterPattern::steady, 19.5, 0.0)}, for_ohms());
    const auto through = std::find_if(acts.begin(), acts.end(), [](const NextAct& act) {
        return act.reading == ReadingKind::between && act.configuration.bare_plug;
    });
    REQUIRE(through != acts.end());
    const auto nets = Traits<BetweenReading>::at(through->place);
    CHECK(nets.net == nets.other);
    CHECK(through->configuration.port == "p1");
    CHECK_THAT(describe(*through, shared_table(barrel).plan()), Catch::Contains("bare plug"));
}

TEST_CASE("a suspected pack is measured by itself", "[next]") {
    PredictionTable& table = shared_table(barrel);
    Reading says;
    says.id = "b";
    says.configuration = plugged("p1");
    says.value = FirmwareReading{FirmwareMessage::no_battery};
    const auto acts =
        acts_after({meter_reading("a", plugged("p1"), MeterPattern::steady, 19.5, 0.7), says}, for_ohms());
    const auto pack = std::find_if(acts.begin(), acts.end(),
                                   [](const NextAct& act) { return act.reading == ReadingKind::pack; });
    REQUIRE(pack != acts.end());
    double shown = 0.0;
    for (const Telling& telling : pack->tells)
        shown += telling.probability;
    CHECK(shown > 0.8);
    CHECK(shown <= 1.0 + 1e-9);
    CHECK_FALSE(describe(*pack, table.plan()).empty());
}
