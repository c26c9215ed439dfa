// SPDX-License-Identifier: GPL-3.0-or-later
// The bench supply into a net, how stiffly nets are held, and what is simulated only once.
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/inference/quirks.h"
#include "core/inference/ranking.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/prediction/hypothesis.h"
#include "core/prediction/prediction_store.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

PoweredView injected(const std::vector<FaultInstance>& faults, const Injection& injection) {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    MachineModel model(plan, faults, {});
    DcSolver solver;
    BenchConfiguration bench = for_ohms();
    bench.injection = injection;
    return look_at(model, bench, solver);
}

}  // namespace

TEST_CASE("a supply into a short follows Ohm's law up to its limit", "[injection]") {
    const PoweredView mild = injected({{"protector_shorted", "sp2", 4.0}}, {"vbus2", 1.0, 3.0});
    REQUIRE(mild.valid);
    CHECK(mild.meter.amps == Approx(mild.meter.volts / 4.0).epsilon(0.01));
    CHECK(mild.meter.volts == Approx(1.0).epsilon(0.05));
    const PoweredView hard = injected({{"protector_shorted", "sp2", 0.1}}, {"vbus2", 1.0, 3.0});
    CHECK(hard.meter.amps == Approx(3.0).epsilon(0.03));
    CHECK(hard.meter.volts == Approx(0.3).epsilon(0.05));
}

TEST_CASE("0.9 V that give 0.12 A are 7.5 ohm, as the ohmmeter says", "[injection]") {
    // Common practice, worked example of the trade.
    const PoweredView view = injected({{"capacitor_shorted", "cv2", 7.5}}, {"vbus2", 0.9, 1.0});
    CHECK(view.meter.amps == Approx(0.12).epsilon(0.02));
}

TEST_CASE("the supply warms the shorted part and nothing else of its net", "[injection]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    for (const FaultInstance& fault :
         {FaultInstance{"protector_shorted", "sp2", 0.5}, FaultInstance{"capacitor_shorted", "cv2", 0.5}}) {
        const PoweredView view = injected({fault}, {"vbus2", 1.0, 3.0});
        const HottestPart hottest = hottest_part(view);
        CHECK(plan.blocks[hottest.block].id == fault.block);
        CHECK(hottest.kelvin > 20.0);
        double total = 0.0;
        const auto shares = hottest_shares(view, {});
        for (const double share : shares)
            total += share;
        CHECK(total == Approx(1.0));
        CHECK(shares[hottest.block] > 0.9);
    }
    CHECK(hottest_part(injected({}, {"vbus2", 1.0, 3.0})).kelvin < 1.0);
}

TEST_CASE("a supply moved from net to net is solved where it is", "[injection]") {
    // One model and one solver for several nets: each as a fresh model has it.
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    const std::vector<FaultInstance> faults{{"protector_shorted", "sp1", 2.0}};
    MachineModel model(plan, faults, {});
    DcSolver solver;
    for (const char* net : {"vbus1", "vbus2", "main", "vbus1"}) {
        BenchConfiguration bench = for_ohms();
        bench.injection = Injection{net, 1.0, 3.0};
        const PoweredView again = look_at(model, bench, solver);
        const PoweredView fresh = injected(faults, {net, 1.0, 3.0});
        CAPTURE(net);
        CHECK(again.meter.volts == Approx(fresh.meter.volts));
        CHECK(again.meter.amps == Approx(fresh.meter.amps).margin(1e-9));
    }
}

TEST_CASE("ohms seen at a node are the resistors that hold it", "[injection]") {
    Circuit circuit;
    const NodeId a = circuit.node("a");
    const NodeId b = circuit.node("b");
    circuit.add("source", LimitedSource{a, ground, 5.0, 0.1, 3.0});
    circuit.add("series", Resistor{a, b, 1.0});
    circuit.add("load", Resistor{b, ground, 3.0});
    DcSolver solver;
    // Loaded well, where the rounded corners of the source's law are far away.
    REQUIRE(solver.solve(circuit).ok());
    const auto ohms = solver.driving_point_ohms({a.index, b.index});
    CHECK(ohms[0] == Approx(1.0 / (1.0 / 0.1 + 1.0 / 4.0)).epsilon(0.01));
    CHECK(ohms[1] == Approx(1.0 / (1.0 / 3.0 + 1.0 / 1.1)).epsilon(0.01));
}

TEST_CASE("volts that nothing holds are expected loosely, those of a rail tightly", "[injection]") {
    PredictionStore store(shared_table(chained).plan());
    const auto views = store.sound_views(plugged("p1"));
    const auto& nets = store.plan().topology().nets;
    const auto width = [&](const std::string& id) {
        for (std::size_t n = 0; n < nets.size(); ++n) {
            if (nets[n].id == id)
                return expected_net_volts(*views, static_cast<int>(n), {}).front().common_width;
        }
        return -1.0;
    };
    CHECK(width("vbus2") > 0.25);
    CHECK(width("pd3v3") < 0.2);
    CHECK(width("pd3v3") > 0.0);
}

TEST_CASE("strays decide where nothing holds, and do not reach what is held", "[injection]") {
    const AccuracyOptions o;
    const auto width = [&](double ohms) {
        PoweredView view;
        view.net_volts = SharedFloats(std::vector<float>{0.0F});
        view.net_ohms = SharedFloats(std::vector<float>{static_cast<float>(ohms)});
        return expected_net_volts({view}, 0, o).front().common_width;
    };
    CHECK(width(0.0) == 0.0);
    CHECK(width(1e3) < 0.001);
    // A megohm from a rail of 5 V: a leak may move it, and does not pull it to ground.
    CHECK(width(1e6) > 0.03);
    CHECK(width(1e6) < 0.5);
    CHECK(stray_share(1e6, o) > 0.1);
    CHECK(stray_share(1e6, o) < 0.3);
    CHECK(stray_share(1e12, o) == Approx(1.0).epsilon(0.01));
    CHECK(stray_share(std::numeric_limits<double>::infinity(), o) == Approx(1.0));
    CHECK(width(1e12) == Approx(o.most_stray_volts).epsilon(0.02));
    CHECK(std::isfinite(width(std::numeric_limits<double>::infinity())));
    double before = 0.0;
    for (double ohms = 100.0; ohms < 1e9; ohms *= 3.0) {
        CHECK(width(ohms) >= before);
        before = width(ohms);
    }
}

TEST_CASE("no volts at the enable pin name its resistor, not the supply behind it", "[injection]") {
    PredictionTable& table = shared_table(chained);
    BenchConfiguration stand = plugged("p1");
    stand.case_open = true;
    const std::vector<Reading> readings{meter_reading("a", plugged("p1"), MeterPattern::steady, 4.97, 0.0),
                                        volts_reading("b", stand, "pd3v3", 0.01),
                                        volts_reading("c", stand, "pdin", 4.95),
                                        volts_reading("d", stand, "pden", 0.02)};
    const Ranking ranking = rank(table, priors_of(table.hypotheses()), readings);
    REQUIRE_FALSE(ranking.parts.empty());
    CHECK(ranking.parts.front().block == "enr");
    CHECK(ranking.parts.front().probability > 0.9);
}

TEST_CASE("what a machine's faults cannot tell apart is simulated once", "[injection]") {
    PredictionStore store(shared_table(chained).plan());
    BenchConfiguration own = plugged("p1");
    own.charger = Owner::customer;
    own.lead = Owner::customer;
    const auto inside = store.machine({{"memory_unreadable", "mem"}});
    CHECK(store.machine({{"memory_unreadable", "mem"}}) == inside);
    CHECK(store.views(inside, own) == nullptr);
    REQUIRE(store.simulate_views({inside}, plugged("p1")));
    REQUIRE(store.views(inside, own) != nullptr);
    CHECK(store.views(inside, own) == store.views(inside, plugged("p1")));
    BenchConfiguration replaced = plugged("p1");
    replaced.replaced = {"mem"};
    CHECK(store.views(inside, replaced) == store.views(PredictionStore::sound, plugged("p1")));
    const auto outside = store.machine({{"charger_no_20v", charger_block_id("usb-c")}});
    REQUIRE(store.simulate_views({outside}, own));
    REQUIRE(store.views(outside, own) != nullptr);
    CHECK(store.views(outside, own) != store.views(PredictionStore::sound, own));
    CHECK(store.views(outside, plugged("p1")) == store.views(PredictionStore::sound, plugged("p1")));
    double total = 0.0;
    for (const double weight : store.weights(inside))
        total += weight;
    CHECK(total == Approx(1.0));
}

TEST_CASE("a repeated misfit costs once: the machine is then known to be off", "[likelihood]") {
    const AccuracyOptions o;
    ReadingTerms terms;
    terms.broad = 1.0 / 22.0;
    SampleTerms sample;
    sample.known = true;
    sample.count = 1;
    sample.residuals[0] = {0.3, 0.2, 0.02, 1.0};
    Shift shift;
    const double first = density(terms, sample, {&shift, nullptr}, nullptr, o);
    const double second = density(terms, sample, {&shift, nullptr}, nullptr, o);
    CHECK(second > 3.0 * first);
    CHECK(shift.variance < 0.1);
    CHECK(shift.mean == Approx(1.5).epsilon(0.1));
    // A word that was wrong once is expected to be wrong again.
    ReadingTerms word;
    word.word = 2;
    word.words = 4;
    word.broad = 0.25;
    SampleTerms other;
    other.known = true;
    other.given = o.misread_word / 3.0;
    Doubt doubt{o.model_wrong_word};
    const double once = density(word, other, {nullptr, nullptr}, &doubt, o);
    CHECK(density(word, other, {nullptr, nullptr}, &doubt, o) > 10.0 * once);
    CHECK(doubt.wrong > 0.5);
}

// --- what is simulated only once -------------------------------------------------------------------------

TEST_CASE("turning the plug over swaps the two signal lines and nothing else", "[store]") {
    for (const char* id : {chained, "usbc-subboard"}) {
        const FittedPlan plan(shipped_knowledge(), topology(id));
        DcSolver solver;
        const auto pairs = plug_side_nodes(plan, 0);
        REQUIRE_FALSE(pairs.empty());
        int compared = 0;
        for (const Hypothesis& hypothesis : make_hypotheses(plan, {})) {
            const bool touches =
                std::any_of(hypothesis.faults.begin(), hypothesis.faults.end(), [&](const auto& fault) {
                    return std::any_of(pairs.begin(), pairs.end(), [&](const auto& pair) {
                        return fault_touches(plan, fault, pair.first) ||
                               fault_touches(plan, fault, pair.second);
                    });
                });
            if (touches || hypothesis.kind == HypothesisKind::none_of_these)
                continue;
            MachineModel model(plan, hypothesis.faults, {});
            const std::string port = topology(id).ports.front().id;
            const PoweredView a = look_at(model, plugged(port, PlugSide::a), solver);
            const PoweredView b = look_at(model, plugged(port, PlugSide::b), solver);
            CAPTURE(id, hypothesis_title(hypothesis, plan));
            CHECK(a.meter.pattern == b.meter.pattern);
            CHECK(a.meter.amps == Approx(b.meter.amps).margin(1e-4));
            CHECK(a.firmware == b.firmware);
            for (std::size_t n = 0; n < plan.net_nodes.size(); ++n) {
                std::size_t turned = n;
                for (const auto& [x, y] : pairs) {
                    const int other = plan.net_nodes[n] == x ? y : plan.net_nodes[n] == y ? x : -1;
                    for (std::size_t m = 0; m < plan.net_nodes.size() && other >= 0; ++m)
                        turned = plan.net_nodes[m] == other ? m : turned;
                }
                CAPTURE(topology(id).nets[n].id);
                CHECK(a.net_volts[n] == Approx(b.net_volts[turned]).margin(2e-3));
            }
            ++compared;
        }
        CHECK(compared > 30);
    }
}

TEST_CASE("shorts of two parts on one net differ only in which of them is warm", "[store]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    PredictionStore store(plan);
    const auto protector = store.machine({{"protector_shorted", "sp2"}});
    const auto capacitor = store.machine({{"capacitor_shorted", "cv2"}});
    REQUIRE(store.simulate_views({protector, capacitor}, plugged("p2")));
    const auto a = store.views(protector, plugged("p2"));
    const auto b = store.views(capacitor, plugged("p2"));
    const auto sp2 = static_cast<std::size_t>(plan.find_block("sp2"));
    const auto cv2 = static_cast<std::size_t>(plan.find_block("cv2"));
    for (std::size_t s = 0; s < a->size(); ++s) {
        CHECK((*a)[s].meter.volts == (*b)[s].meter.volts);
        // The same watts, each over its own part's resistance to heat.
        const double watts_a =
            unsettled_rise((*a)[s].rise_kelvin[sp2]) / plan.blocks[sp2].kind->heat_kelvin_per_watt;
        const double watts_b =
            unsettled_rise((*b)[s].rise_kelvin[cv2]) / plan.blocks[cv2].kind->heat_kelvin_per_watt;
        CHECK(watts_a == Approx(watts_b).margin(1e-3));
        CHECK((*a)[s].rise_kelvin[cv2] == Approx((*b)[s].rise_kelvin[sp2]).margin(1e-2));
    }
    // The models themselves say so too, each simulated by itself.
    DcSolver solver;
    MachineModel model_a(plan, {{"protector_shorted", "sp2", 2.0}}, {});
    MachineModel model_b(plan, {{"capacitor_shorted", "cv2", 2.0}}, {});
    const PoweredView plain_a = look_at(model_a, plugged("p2"), solver);
    const PoweredView plain_b = look_at(model_b, plugged("p2"), solver);
    CHECK(plain_a.meter.volts == Approx(plain_b.meter.volts));
    CHECK(plain_a.meter.amps == Approx(plain_b.meter.amps));
    CHECK(plain_a.first_shunt_watts == Approx(plain_b.first_shunt_watts));
}

TEST_CASE("a fault that the shop's own charger hides costs nothing", "[store]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    PredictionStore store(plan);
    const auto single = store.machine({{"protector_shorted", "sp2"}});
    const auto pair =
        store.machine({{"protector_shorted", "sp2"}, {"charger_dead", charger_block_id("usb-c")}});
    REQUIRE(store.simulate_views({single, pair}, plugged("p2")));
    CHECK(store.views(single, plugged("p2")) == store.views(pair, plugged("p2")));
    BenchConfiguration own = plugged("p2");
    own.charger = Owner::customer;
    REQUIRE(store.simulate_views({single, pair}, own));
    CHECK(store.views(single, own) != store.views(pair, own));
}

TEST_CASE("a short is still told from its neighbour's when the neighbour was replaced", "[store]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    PredictionStore store(plan);
    const auto protector = store.machine({{"protector_shorted", "sp2"}});
    const auto capacitor = store.machine({{"capacitor_shorted", "cv2"}});
    BenchConfiguration after = plugged("p2");
    after.replaced = {"sp2"};
    REQUIRE(store.simulate_views({protector, capacitor}, after));
    REQUIRE(store.views(capacitor, after) != nullptr);
    // The new protector is sound; the capacitor is as it was.
    CHECK(store.views(protector, after) == store.views(PredictionStore::sound, after));
    REQUIRE(store.simulate_views({capacitor}, plugged("p2")));
    CHECK(store.views(capacitor, after) == store.views(capacitor, plugged("p2")));
}

TEST_CASE("how far a charger sags under a short is expected loosely, and only there", "[injection]") {
    const AccuracyOptions o;
    const auto widths = [&](float sag) {
        PoweredView view;
        view.meter.volts = 4.0;
        view.sag = sag;
        view.net_volts = {4.0F};
        view.net_ohms = {1.0F};
        view.rise_kelvin = {50.0F};
        return std::array<double, 3>{expected_meter_volts({view}, o).front().common_width,
                                     expected_net_volts({view}, 0, o).front().common_width,
                                     expected_rise({view}, 0, o).front().common_width};
    };
    const auto stiff = widths(0.0F);
    const auto sagged = widths(0.8F);
    for (std::size_t i = 0; i < stiff.size(); ++i)
        CHECK(sagged[i] > stiff[i]);
    CHECK(stiff[1] < 0.2);
    CHECK(sagged[1] == Approx(std::hypot(stiff[1], 0.8 * o.sag_share * 4.0)).epsilon(0.05));

    // A charger that folds back into a short sags; at a sound machine none does.
    const PredictionStore store(shared_table(chained).plan());
    MachineModel sound(store.plan(), {}, {});
    DcSolver solver;
    CHECK(look_at(sound, plugged("p1"), solver).sag < 0.06F);
    MachineModel shorted(store.plan(), {{"protector_shorted", "sp1", 1.0}}, {});
    const PoweredView view = look_at(shorted, plugged("p1"), solver);
    CHECK(view.source_strained);
    CHECK(view.sag > 0.1F);
    CHECK(view.sag <= 1.0F);
}
