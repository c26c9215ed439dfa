// SPDX-License-Identifier: GPL-3.0-or-later
// What is looked at in many designs, and that doing so changes how well an answer is known, not what it
// means.
#include "core/inference/design_depth.h"

#include <catch2/catch.hpp>
#include <numeric>

#include "core/inference/reasoner.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr std::size_t few = 16;

Hypothesis fault_hypothesis(const char* fault, const char* block) {
    Hypothesis hypothesis;
    hypothesis.faults = {{fault, block}};
    hypothesis.prior = 0.3;
    return hypothesis;
}

Hypothesis sound_hypothesis() {
    Hypothesis hypothesis;
    hypothesis.kind = HypothesisKind::nothing_wrong;
    hypothesis.prior = 0.4;
    return hypothesis;
}

// Weights of the samples of so many designs, all of it on the first `carrying` of them.
std::vector<double> carried_by(std::size_t carrying) {
    std::vector<double> weights(few * samples_of_design, 0.0);
    for (std::size_t s = 0; s < carrying * samples_of_design; ++s)
        weights[s] = 1.0 / static_cast<double>(carrying * samples_of_design);
    return weights;
}

}  // namespace

TEST_CASE("designs that carry an answer are counted, however their samples share it", "[designs]") {
    for (const std::size_t carrying : {1U, 3U, 16U})
        CHECK(designs_that_carry(carried_by(carrying)) == Approx(carrying));
    std::vector<double> one_make = carried_by(2);
    one_make[0] = one_make[0] + one_make[1] + one_make[2];
    one_make[1] = one_make[2] = 0.0;
    CHECK(designs_that_carry(one_make) == Approx(2.0));
    for (double& weight : one_make)
        weight *= 7.0;
    CHECK(designs_that_carry(one_make) == Approx(2.0));
}

TEST_CASE("many designs are for what counts and hangs on few of them", "[designs]") {
    const PredictionTable table(shared_table(chained).store(),
                                {fault_hypothesis("protector_shorted", "sp1"),
                                 fault_hypothesis("protector_shorted", "sp2"), sound_hypothesis()});
    Ranking ranking;
    ranking.suspicions = {{0, 0.3, 0.9, {}}, {1, 0.3, 0.0995, {}}, {2, 0.4, 0.0005, {}}};
    ranking.sample_weights = {carried_by(2), carried_by(16), carried_by(2)};
    auto depths = depths_needed(table, ranking);
    CHECK(depths[0] == Depth::many_designs);
    CHECK(depths[1] == Depth::few_designs);
    CHECK(depths[2] == Depth::many_designs);  // what the first is compared with
    ranking.sample_weights[0] = carried_by(16);
    depths = depths_needed(table, ranking);
    CHECK(depths == std::vector<Depth>(3, Depth::few_designs));
    ranking.sample_weights[1] = carried_by(1);
    std::swap(ranking.suspicions[0].probability, ranking.suspicions[1].probability);
    ranking.suspicions[1].probability = 0.0001;
    ranking.suspicions[0].probability = 0.9994;
    CHECK(depths_needed(table, ranking)[1] == Depth::few_designs);  // out of the question
}

TEST_CASE("a machine in many designs begins with what it is in few", "[designs]") {
    const MachinePlan& plan = shared_table(chained).plan();
    PredictionOptions options;
    options.samples = 6;
    options.many_designs = 5;
    const auto port = plugged("p2");
    for (const bool few_first : {true, false}) {
        PredictionStore store(plan, options);
        for (const char* fault : {"protector_shorted", "capacitor_shorted"}) {
            const FaultInstance instance{fault, fault[0] == 'p' ? "sp2" : "cv2"};
            const auto shallow = store.machine({instance});
            const auto deep = store.machine({instance}, Depth::many_designs);
            REQUIRE(shallow != deep);
            const std::vector<PredictionStore::MachineNumber> order =
                few_first ? std::vector{shallow, deep} : std::vector{deep, shallow};
            for (const auto machine : order) {
                REQUIRE(store.simulate_views({machine}, port));
                REQUIRE(store.simulate_ohms({machine}, for_ohms()));
            }
            const auto& of_few = *store.views(shallow, port);
            const auto& of_many = *store.views(deep, port);
            REQUIRE(of_few.size() == 6);
            REQUIRE(of_many.size() >= 15);
            for (std::size_t s = 0; s < of_few.size(); ++s) {
                CHECK(of_few[s].meter.volts == of_many[s].meter.volts);
                CHECK(of_few[s].net_volts == of_many[s].net_volts);
            }
            const auto& ohms_few = *store.ohms(shallow, for_ohms());
            const auto& ohms_many = *store.ohms(deep, for_ohms());
            for (std::size_t n = 0; n < ohms_few.size(); ++n)
                CHECK(std::equal(ohms_few[n].begin(), ohms_few[n].end(), ohms_many[n].begin()));
            const auto weights = store.weights(deep);
            CHECK(weights.size() == of_many.size());
            CHECK(std::accumulate(weights.begin(), weights.end(), 0.0) == Approx(1.0));
        }
    }
}

TEST_CASE("designs in reserve are no designs where there are no more of them", "[designs]") {
    PredictionOptions options;
    options.samples = 6;
    options.many_designs = 2;
    PredictionStore store(shared_table(chained).plan(), options);
    const FaultInstance fault{"protector_shorted", "sp2"};
    CHECK(store.machine({fault}) == store.machine({fault}, Depth::many_designs));
    CHECK(store.machine({}, Depth::many_designs) == PredictionStore::sound);
}
