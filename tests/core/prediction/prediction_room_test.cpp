// SPDX-License-Identifier: GPL-3.0-or-later
// What a store of simulated machines forgets is simulated again, the same.
#include <catch2/catch.hpp>

#include "core/prediction/prediction_table.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

PredictionOptions with_room_for(std::size_t bytes) {
    PredictionOptions options;
    options.samples = 6;
    options.most_spare_bytes = bytes;
    return options;
}

const std::vector<FaultInstance> two_faults{{"charger_circuit_dead", "chg"}, {"capacitor_shorted", "cm"}};

}  // namespace

TEST_CASE("machines of one fault are kept, others forgotten where there are too many of them", "[room]") {
    const FittedPlan plan{shipped_knowledge(), topology(barrel)};
    PredictionStore store(plan, with_room_for(0));
    const auto one = store.machine({{"jack_shorted", "jack"}});
    const auto two = store.machine(two_faults);
    REQUIRE(store.simulate_views({PredictionStore::sound, one, two}, plugged("p1")));
    CHECK(store.spare_bytes() > 0);
    REQUIRE(store.views(two, plugged("p1")) != nullptr);
    const Views before = *store.views(two, plugged("p1"));
    REQUIRE(store.simulate_ohms({one}, for_ohms()));
    CHECK(store.spare_bytes() == 0);
    CHECK(store.views(one, plugged("p1")) != nullptr);
    CHECK(store.views(PredictionStore::sound, plugged("p1")) != nullptr);
    CHECK(store.views(two, plugged("p1")) == nullptr);
    REQUIRE(store.simulate_views({two}, plugged("p1")));
    const Views again = *store.views(two, plugged("p1"));
    REQUIRE(again.size() == before.size());
    for (std::size_t s = 0; s < again.size(); ++s) {
        CHECK(again[s].meter.volts == Approx(before[s].meter.volts));
        CHECK(again[s].meter.amps == Approx(before[s].meter.amps));
    }
}

TEST_CASE("a table keeps its columns while its store forgets", "[room]") {
    const FittedPlan plan{shipped_knowledge(), topology(barrel)};
    const auto store = std::make_shared<PredictionStore>(plan, with_room_for(0));
    std::vector<Hypothesis> hypotheses;
    Hypothesis double_fault;
    double_fault.faults = two_faults;
    hypotheses.push_back(double_fault);
    PredictionTable table(store, hypotheses);
    const auto column = table.powered(plugged("p1"));
    REQUIRE(column != nullptr);
    REQUIRE(table.ohms(for_ohms(), 0) != nullptr);
    CHECK(table.known_powered(plugged("p1")) == column);
    // All nets of the machine come with the first question, whatever was forgotten before it.
    for (std::size_t net = 0; net < topology(barrel).nets.size(); ++net)
        CHECK(table.ohms(for_ohms(), static_cast<int>(net)) != nullptr);
}
