// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever the bench, what was simulated for a column is found again.
#include "core/prediction/prediction_table.h"

#include <algorithm>
#include <array>
#include <catch2/catch.hpp>

#include "core/machine/simulation/known_ohms.h"
#include "core/readings/reading_json.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

// Benches that differ from the usual one in what matters to a few hypotheses only, and all of these together.
std::vector<BenchConfiguration> odd_benches(const BenchConfiguration& usual, const std::string& part) {
    using Change = void (*)(BenchConfiguration&, const std::string&);
    constexpr std::array<Change, 9> changes{
        [](BenchConfiguration& b, const std::string&) { b.plug_held = true; },
        [](BenchConfiguration& b, const std::string& p) { insert_block(b.replaced, p); },
        [](BenchConfiguration& b, const std::string&) { b.power_was_cut = true; },
        [](BenchConfiguration& b, const std::string&) { b.charger = b.lead = Owner::customer; },
        [](BenchConfiguration& b, const std::string&) { b.second_instruments = true; },
        [](BenchConfiguration& b, const std::string& p) { note_work(b, p, Work::clean); },
        [](BenchConfiguration& b, const std::string&) { b.moment = Moment::at_once; },
        [](BenchConfiguration& b, const std::string&) { b.button = Button::pressed; },
        [](BenchConfiguration& b, const std::string&) { insert_block(b.lent, "bat"); }};
    std::vector<BenchConfiguration> list;
    BenchConfiguration all = usual;
    for (const Change& change : changes) {
        list.push_back(usual);
        change(list.back(), part);
        change(all, part);
        list.push_back(all);
    }
    return list;
}

}  // namespace

TEST_CASE("what was simulated for a bench is found again, after work and with the plug held too",
          "[prediction]") {
    const Topology& machine = topology("usbc-single");
    const FittedPlan plan(shipped_knowledge(), machine);
    // Faults that a held plug, new parts, a cut of power, cleaning or another instrument change.
    std::vector<Hypothesis> hypotheses;
    for (const Hypothesis& hypothesis : make_hypotheses(plan, {{}, {"rec1"}})) {
        const bool told_by_the_bench =
            hypothesis.faults.empty() ||
            std::any_of(hypothesis.faults.begin(), hypothesis.faults.end(), [&](const FaultInstance& fault) {
                const int block = plan.find_block(fault.block);
                const PlanBlock& part = plan.blocks[static_cast<std::size_t>(block)];
                return fault.block == "rec1" || fault.block == "ec" || fault.block == "bat" ||
                       part.is_outside() || part.is_instrument();
            });
        if (told_by_the_bench && hypothesis.faults.size() < 2)
            hypotheses.push_back(hypothesis);
    }
    REQUIRE(hypotheses.size() > 20);
    PredictionTable table(plan, hypotheses);
    for (const BenchConfiguration& bench : odd_benches(plugged("p1"), "rec1")) {
        CAPTURE(configuration_to_text(bench));
        REQUIRE_NOTHROW(table.powered(bench));
        CHECK(table.powered(bench) == table.known_powered(bench));
        REQUIRE_NOTHROW(table.ohms(bench, 0));
        CHECK(table.ohms(bench, 0) == table.known_ohms(bench, 0));
    }
}
