// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluation/evaluation.h"
#include "core/machine/model/net_index.h"
#include "core/machine/simulation/known_ohms.h"
#include "evaluation/simulated_bench.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("the generating model is moved within its bounds, and by no perturbation not at all",
          "[evaluation]") {
    const Perturbation perturbation;
    const Knowledge moved = perturbed(shipped_knowledge(), perturbation, 3);
    double furthest = 0.0;
    for (std::size_t f = 0; f < moved.catalogue.faults.size(); ++f) {
        const double ratio = moved.catalogue.faults[f].rate / shipped_knowledge().catalogue.faults[f].rate;
        furthest = std::max(furthest, std::abs(std::log(ratio)));
    }
    CHECK(furthest <= std::log(3.0) + 1e-9);
    CHECK(furthest > std::log(2.0));
    for (std::size_t c = 0; c < moved.kit.chargers.size(); ++c)
        CHECK(moved.kit.chargers[c].protection != shipped_knowledge().kit.chargers[c].protection);
    const Knowledge same = perturbed(shipped_knowledge(), Perturbation::none(), 3);
    for (std::size_t f = 0; f < same.catalogue.faults.size(); ++f)
        CHECK(same.catalogue.faults[f].rate == shipped_knowledge().catalogue.faults[f].rate);
}

TEST_CASE("machines are drawn in the shares that were asked for", "[evaluation]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    const Perturbation perturbation;
    MachineSource source(plan, perturbation, 17);
    MachineSource again(plan, perturbation, 17);
    constexpr int count = 2000;
    int triples = 0;
    int several = 0;
    for (int i = 0; i < count; ++i) {
        const DrawnMachine machine = source.next();
        const DrawnMachine same = again.next();
        CHECK(machine.seed == same.seed);
        CHECK(machine.faults == same.faults);
        several += machine.faults.size() > 1 ? 1 : 0;
        if (machine.faults.size() > 1) {
            std::set<std::string> blocks;
            for (const FaultInstance& fault : machine.faults)
                blocks.insert(fault.block);
            CHECK(blocks.size() == machine.faults.size());
        }
        triples += machine.faults.size() > 2 ? 1 : 0;
    }
    // Four sigma of the binomial counts.
    CHECK(several == Approx(0.30 * count).margin(4.0 * std::sqrt(0.3 * 0.7 * count)));
    CHECK(triples == Approx(0.05 * count).margin(4.0 * std::sqrt(0.05 * 0.95 * count)));
}

TEST_CASE("unknown effects are outside the catalogue", "[evaluation]") {
    const Knowledge strange = with_unknown_effects(shipped_knowledge(), topology(barrel), 5);
    const std::size_t known = shipped_knowledge().catalogue.faults.size();
    REQUIRE(strange.catalogue.faults.size() > known + 10);
    for (std::size_t f = known; f < strange.catalogue.faults.size(); ++f)
        CHECK(shipped_knowledge().catalogue.find(strange.catalogue.faults[f].id) == nullptr);
}

TEST_CASE("the library that is tried on strangers lacks an alternative, and nothing else", "[evaluation]") {
    const Knowledge cut = with_alternatives_left_out(shipped_knowledge(), 4);
    std::size_t left_out = 0;
    for (std::size_t habit = 0; habit < habit_count; ++habit) {
        const double share = cut.variety.habit_shares[habit];
        const bool whole = share == shipped_knowledge().variety.habit_shares[habit];
        CHECK((whole || share == 0.0 || share == 1.0));
        left_out += whole ? 0 : 1;
    }
    CHECK(left_out >= 1);
    CHECK(left_out < habit_count);
    CHECK(cut.catalogue.faults.size() == shipped_knowledge().catalogue.faults.size());
    const Knowledge again = with_alternatives_left_out(shipped_knowledge(), 4);
    CHECK(again.variety.habit_shares == cut.variety.habit_shares);
}

TEST_CASE("another maker's nets differ as far as the library says, but for those of the fault",
          "[evaluation]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    const auto main = static_cast<std::size_t>(net_index(plan.topology(), "main"));
    const auto vbus = static_cast<std::size_t>(net_index(plan.topology(), "vbus1"));
    double furthest = 0.0;
    for (std::uint64_t seed = 1; seed <= 50; ++seed) {
        const NetFactors nets = drawn_nets(plan, {{"capacitor_shorted", "cv1"}}, seed);
        CHECK(nets.ohms[vbus] == 1.0);
        furthest = std::max(furthest, std::abs(nets.volts[main] - 1.0));
    }
    CHECK(furthest <= 2.0 * plan.net_variety[main].volts_share + 1e-9);
    CHECK(furthest > plan.net_variety[main].volts_share);
}

TEST_CASE("a probe that slips reads another net, and one that never slips its own", "[evaluation]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    NextAct act;
    act.reading = ReadingKind::net_volts;
    act.place = "main";
    act.configuration = plugged("p1");
    const auto volts_with = [&](double slip_share) {
        SimulatedBench bench(plan, {}, 7);
        NetFactors same;
        same.volts.assign(plan.net_nodes.size(), 1.0);
        same.ohms.assign(plan.net_nodes.size(), 1.0);
        bench.of_other_maker(same, slip_share);
        std::set<double> seen;
        for (int i = 0; i < 20; ++i)
            seen.insert(std::round(bench.take(act).as<NetVoltsReading>()->volts));
        return seen;
    };
    CHECK(volts_with(0.0).size() <= 2);
    CHECK(volts_with(1.0).size() > 3);
}

TEST_CASE("on the simulated bench a controller that hangs lets go once all power was cut", "[evaluation]") {
    const FittedPlan plan(shipped_knowledge(), topology("usbc-dual"));
    NextAct act;
    act.reading = ReadingKind::meter;
    act.configuration = plugged("p1");
    SimulatedBench hung(plan, {{"dual_hung", "pc"}}, 7);
    CHECK(hung.take(act).as<MeterReading>()->meter.volts < 6.0);
    act.configuration.power_was_cut = true;
    CHECK(hung.take(act).as<MeterReading>()->meter.volts > 18.0);
    SimulatedBench dead(plan, {{"dual_dead", "pc"}}, 7);
    CHECK(dead.take(act).as<MeterReading>()->meter.volts < 6.0);
}

TEST_CASE("scores of disjoint runs join to the score of all", "[evaluation]") {
    PlayScore a;
    a.machines = 10;
    a.right_first = 9;
    a.mean_minutes = 5.0;
    a.bins[9] = {10, 0.95, 0.9};
    PlayScore b;
    b.machines = 30;
    b.right_first = 15;
    b.mean_minutes = 9.0;
    b.bins[9] = {30, 0.97, 0.5};
    const PlayScore all = joined(a, b);
    CHECK(all.machines == 40);
    CHECK(all.right_first == 24);
    CHECK(all.mean_minutes == Approx(8.0));
    CHECK(all.bins[9].right == Approx(0.6));
    CHECK(all.calibration_error == Approx(0.965 - 0.6));
    CHECK(joined({}, b).mean_minutes == Approx(9.0));
}

TEST_CASE("every order of work reads every net and comes back to no place twice", "[evaluation]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    for (int o = 0; o < bench_order_count; ++o) {
        const auto acts = readings_of(static_cast<BenchOrder>(o), plan, plugged("p1"));
        std::set<std::string> volts;
        std::set<std::string> ohms;
        for (const NextAct& act : acts) {
            if (act.reading == ReadingKind::net_volts)
                CHECK(volts.insert(act.place).second);
            if (act.reading == ReadingKind::net_ohms) {
                CHECK(ohms.insert(act.place).second);
                CHECK_FALSE(act.configuration.charger_connected);
                CHECK_FALSE(act.configuration.battery_in);
            }
        }
        CHECK(volts.size() == plan.topology().nets.size());
        CHECK(ohms.size() == plan.topology().nets.size());
    }
}

TEST_CASE("the oracle and the fixed orders are played on the same machines when asked for",
          "[evaluation][slow]") {
    EvaluationOptions options;
    options.machines = 1;  // each order is played to its end, and each world simulated for it
    options.seed = 9;
    options.most_readings = 10;
    options.oracle = true;
    options.orders = true;
    const EvaluationReport report = evaluate(shipped_knowledge(), topology(barrel), shipped_costs(), options);
    CHECK(report.ours.machines == 1);
    // The curve over the readings ends where the machines ended.
    REQUIRE(report.by_readings.size() == static_cast<std::size_t>(options.most_readings) + 1);
    CHECK(report.by_readings.front().machines == 1);
    CHECK(report.by_readings.back().right == report.ours.right_first);
    CHECK(report.by_readings.front().right <= report.ours.right_first);
    CHECK(report.oracle.machines == 1);
    for (const PlayScore& order : report.orders) {
        CHECK(order.machines == 1);
        CHECK(order.mean_readings > report.ours.mean_readings);
    }
    int stopped_at = 0;
    options.machines = 2;
    options.oracle = options.orders = false;
    const auto stopped = evaluate(shipped_knowledge(), topology(barrel), shipped_costs(), options,
                                  [&] { return ++stopped_at >= 1; });
    CHECK(stopped.stopped);
}
