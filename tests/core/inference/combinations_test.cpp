// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/combinations.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"

#include <algorithm>

#include "core/inference/reasoner.h"
#include "evaluation/simulated_bench.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

const MachinePlan& chained_plan() {
    static const FittedPlan plan(shipped_knowledge(), topology(chained));
    return plan;
}

const Reasoner& chained_reasoner() {
    static const Reasoner reasoner(std::make_shared<PredictionStore>(chained_plan()));
    return reasoner;
}

double suspicion_of(const Suspects& suspects, const std::string& block) {
    for (const PartSuspicion& part : suspects.ranking.parts) {
        if (part.block == block)
            return part.probability;
    }
    return 0.0;
}

Reading seen(SimulatedBench& bench, ReadingKind kind, const std::string& place,
             const BenchConfiguration& configuration, const std::string& id) {
    NextAct act;
    act.reading = kind;
    act.place = place;
    act.configuration = configuration;
    Reading reading = bench.take(act);
    reading.id = id;
    return reading;
}

}  // namespace

TEST_CASE("a fault and what it brings about are weighed together, a share of the cause's rate",
          "[combinations]") {
    const auto hypotheses = make_hypotheses(chained_plan(), {});
    const FaultSpec& cause = *shipped_knowledge().catalogue.find("buck_shorted_through");
    double alone = 0.0;
    double tied = 0.0;
    for (const Hypothesis& h : hypotheses) {
        if (h.faults.empty() || h.faults.front() != FaultInstance{"buck_shorted_through", "s5v"})
            continue;
        (h.faults.size() == 1 ? alone : tied) += h.prior;
    }
    REQUIRE_FALSE(cause.causes.empty());
    // Whatever is in reach, the cause keeps its rate.
    const double plain = [&] {
        double total = 0.0;
        for (const Hypothesis& h : hypotheses) {
            if (h.faults.size() == 1 && h.faults.front().fault == "memory_unreadable")
                total += h.prior;
        }
        return total / shipped_knowledge().catalogue.find("memory_unreadable")->rate;
    }();
    CHECK(alone + tied == Approx(cause.rate * plain));
    CHECK(tied > 0.2 * (alone + tied));
}

TEST_CASE("independent faults are weighed only where the intake or work gives a reason", "[combinations]") {
    const auto most_faults = [](const Beforehand& beforehand) {
        const auto suspects = chained_reasoner().weigh(
            beforehand, {meter_reading("a", plugged("p1"), MeterPattern::dark),
                         meter_reading("b", plugged("p2"), MeterPattern::steady, 5.0, 0.005)});
        std::size_t most = 0;
        for (const Hypothesis& h : suspects->table->hypotheses()) {
            const bool tied = h.faults.size() == 2 && !h.faults.empty() &&
                              !shipped_knowledge().catalogue.find(h.faults[0].fault)->causes.empty();
            if (!tied)
                most = std::max(most, h.faults.size());
        }
        return most;
    };
    CHECK(most_faults({}) == 1);
    CHECK(most_faults({{"liquid"}, {}}) >= 2);
}

TEST_CASE("after liquid two shorts on two ports are both found", "[combinations]") {
    const std::vector<FaultInstance> truth{{"protector_shorted", "sp1", 2.0},
                                           {"capacitor_shorted", "cv2", 1.0}};
    SimulatedBench bench(chained_plan(), truth, 5);
    BenchConfiguration off = for_ohms();
    std::vector<Reading> readings{seen(bench, ReadingKind::meter, "", plugged("p1"), "a"),
                                  seen(bench, ReadingKind::meter, "", plugged("p2"), "b"),
                                  seen(bench, ReadingKind::net_ohms, "vbus1", off, "c"),
                                  seen(bench, ReadingKind::net_ohms, "vbus2", off, "d")};
    for (const char* net : {"vbus1", "vbus2"}) {
        off.injection = Injection{net};
        readings.push_back(seen(bench, ReadingKind::injection, "", off, std::string("i") + net));
    }
    const auto suspects = chained_reasoner().weigh({{"liquid"}, {}}, readings);
    REQUIRE(suspects);
    CHECK(suspicion_of(*suspects, "sp1") > 0.8);
    CHECK(suspicion_of(*suspects, "cv2") > 0.8);
    for (const Suspicion& suspicion : suspects->ranking.suspicions)
        CHECK(std::isfinite(suspicion.probability));
}

TEST_CASE("a part that was changed without curing counts as sound or badly fitted", "[combinations]") {
    // The port stays short after its protector was changed: a bridge from the work, or another part on that
    // net.
    BenchConfiguration after = for_ohms();
    after.replaced = {"sp2"};
    const std::vector<Reading> readings{ohms_reading("a", for_ohms(), "vbus2", 3.3),
                                        open_reading("b", for_ohms(), "vbus1"),
                                        ohms_reading("c", after, "vbus2", 0.3)};
    const auto suspects = chained_reasoner().weigh({{}, {"sp2"}}, readings);
    REQUIRE(suspects);
    double badly_fitted = 0.0;
    double cured = 0.0;
    for (const Suspicion& suspicion : suspects->ranking.suspicions) {
        const auto& faults = suspects->table->hypotheses()[suspicion.hypothesis].faults;
        const bool refit = std::any_of(faults.begin(), faults.end(), [](const FaultInstance& fault) {
            return fault.fault == "protector_refit_bridge";
        });
        badly_fitted += refit ? suspicion.probability : 0.0;
        if (faults.size() == 1 && faults.front() == FaultInstance{"protector_shorted", "sp2"})
            cured += suspicion.probability;
    }
    CHECK(badly_fitted > 0.3);
    CHECK(cured < 0.04);  // one reading in fifty means nothing
    // And the other parts of that net are still there to be weighed.
    CHECK(suspicion_of(*suspects, "cv2") > 1e-4);
}

TEST_CASE("a fault list with a loop of causes is refused with its field", "[combinations]") {
    const std::string text = R"({"format": "eager-hound.faults/1", "facts": [], "nothing_wrong_rate": 0.1,
        "none_of_these_share": 0.05, "faults": [
        {"id": "a", "kind": "k", "title": "a", "rate": 0.1, "effects": [{"type": "dead"}],
         "remedies": [{"act": "replace"}], "causes": [{"fault": "b", "reach": "net", "share": 0.5}]},
        {"id": "b", "kind": "k", "title": "b", "rate": 0.1, "effects": [{"type": "dead"}],
         "remedies": [{"act": "replace"}], "causes": [{"fault": "a", "reach": "net", "share": 0.5}]}]})";
    BlockKind kind;
    kind.id = "k";
    const auto looped = parse_faults(text, "faults.json", {kind});
    REQUIRE_FALSE(looped);
    CHECK(looped.error().text().find("bring about itself") != std::string::npos);
    CHECK(looped.error().text().find("causes") != std::string::npos);
    std::string unknown = text;
    unknown.replace(unknown.find("\"fault\": \"b\""), 12, "\"fault\": \"x\"");
    const auto stranger = parse_faults(unknown, "faults.json", {kind});
    REQUIRE_FALSE(stranger);
    CHECK(stranger.error().text().find("there is no fault “x”") != std::string::npos);
}
