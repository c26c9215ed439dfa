// SPDX-License-Identifier: GPL-3.0-or-later
// What it says that a machine was brought in, and two habits of the trade in what is done next.
#include "core/inference/complaint.h"

#include <algorithm>

#include "core/inference/reasoner.h"
#include "core/planning/next_act.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

std::size_t hypothesis_of(const PredictionTable& table, const std::string& fault, const std::string& block) {
    const auto& list = table.hypotheses();
    const auto found = std::find_if(list.begin(), list.end(), [&](const Hypothesis& h) {
        return h.faults == std::vector<FaultInstance>{{fault, block}};
    });
    REQUIRE(found != list.end());
    return static_cast<std::size_t>(found - list.begin());
}

double sum_of(const std::vector<double>& values) {
    double sum = 0.0;
    for (const double value : values)
        sum += value;
    return sum;
}

NextStep step_of(const std::vector<Reading>& readings, const BenchConfiguration& now,
                 const NextOptions& options = {}) {
    PredictionTable& table = shared_table(chained);
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    prepare_candidates(table, ranking, readings, now);
    return next_acts(table, ranking, readings, now, shipped_costs(), options);
}

}  // namespace

TEST_CASE("nobody notices a machine that is as it was", "[complaint]") {
    PoweredView sound;
    sound.meter.pattern = MeterPattern::steady;
    sound.meter.amps = 2.0;
    sound.firmware = FirmwareMessage::charging;
    CHECK_FALSE(is_noticed(sound, sound));
    PoweredView weak = sound;
    weak.meter.amps = 0.3;
    CHECK(is_noticed(weak, sound));
    PoweredView loose = sound;
    loose.drop_probability = 0.9;
    CHECK(is_noticed(loose, sound));
    PoweredView silent = sound;
    silent.firmware = FirmwareMessage::not_charging;
    CHECK(is_noticed(silent, sound));
    PoweredView dark = sound;
    dark.meter.pattern = MeterPattern::dark;
    CHECK(is_noticed(dark, sound));
}

TEST_CASE("faults that never show are less likely in a machine that came in", "[complaint]") {
    PredictionTable& table = shared_table(chained);
    const auto complaint = weigh_complaint(table);
    REQUIRE(complaint);
    for (std::size_t h = 0; h < table.hypotheses().size(); ++h) {
        const auto& weights = complaint->sample_weights[h];
        if (!weights.empty() && table.hypotheses()[h].kind != HypothesisKind::none_of_these)
            CHECK(sum_of(weights) == Approx(1.0));
        CHECK(complaint->prior_factors[h] <= 1.0);
        CHECK(complaint->prior_factors[h] > 0.0);
    }
    // A dead controller stops every port of a chain; a diode that feeds a supply which others feed too stops
    // none.
    CHECK(complaint->prior_factors[hypothesis_of(table, "controller_dead", "pc1")] == 1.0);
    CHECK(complaint->prior_factors[hypothesis_of(table, "multimeter_lead_ohms", "bench_multimeter")] < 0.5);
}

TEST_CASE("no customer's charger is condemned before another was tried", "[next]") {
    BenchConfiguration arrival = as_brought_in(topology(chained), "p1");
    std::vector<Reading> readings;
    for (const BenchConfiguration& way : ways_to_plug_in(topology(chained))) {
        readings.push_back(
            meter_reading("r" + std::to_string(readings.size()), way, MeterPattern::steady, 9.0, 1.9));
        readings.back().configuration.case_open = false;
    }
    const NextStep step = step_of(readings, arrival);
    REQUIRE_FALSE(step.acts.empty());
    CHECK_FALSE(step.repair_due);
    CHECK(step.acts.front().configuration.charger == Owner::bench);
    CHECK(step.acts.front().reading == ReadingKind::meter);
    BenchConfiguration swapped = arrival;
    swapped.charger = Owner::bench;
    readings.push_back(meter_reading("swap", swapped, MeterPattern::steady, 19.8, 2.3));
    const NextStep then = step_of(readings, swapped);
    REQUIRE(then.repair_due);
    CHECK(then.acts.front().fault.block == charger_block_id("usb-c"));
}

TEST_CASE("one school reflows a chip once before it replaces it", "[next]") {
    BenchConfiguration now = plugged("p1");
    now.case_open = true;
    now.board_out = true;
    std::vector<Reading> readings;
    for (const char* port : {"p1", "p2"})
        readings.push_back(meter_reading(port, plugged(port), MeterPattern::steady, 5.05, 0.03));
    const auto volts = [&](const std::string& net, double value) {
        readings.push_back(volts_reading(net, plugged("p1"), net, value));
    };
    volts("vcc1", 3.28);
    volts("vcc2", 3.28);
    volts("ldo1", 0.0);
    volts("ldo2", 1.8);
    readings.push_back(ohms_reading("off", for_ohms(), "vcc1", 13500.0));
    readings.push_back(ohms_reading("own", for_ohms(), "ldo1", 4700.0));
    NextOptions options;
    options.reflow_first = true;
    const NextStep warm = step_of(readings, now, options);
    REQUIRE(warm.repair_due);
    CHECK(warm.acts.front().fault.block == "pc1");
    CHECK(warm.acts.front().remedy == Work::reflow);
    CHECK(warm.acts.front().cures < 1.0);
    options.reflowed = {"pc1"};
    CHECK(step_of(readings, now, options).acts.front().remedy == Work::replace);
    CHECK(step_of(readings, now).acts.front().remedy == Work::replace);
}
