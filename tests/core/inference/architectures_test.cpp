// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/architectures.h"

#include <catch2/catch.hpp>
#include <numeric>

#include "core/machine/model/topology_template.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/machine_model.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

std::vector<std::string> ids_of(const std::vector<const Topology*>& list) {
    std::vector<std::string> ids;
    ids.reserve(list.size());
    for (const Topology* one : list)
        ids.push_back(one->id);
    std::sort(ids.begin(), ids.end());
    return ids;
}

// Reasoners about kinds of machine, kept as long as they are asked.
struct Candidates {
    std::vector<std::unique_ptr<FittedPlan>> plans;
    std::vector<std::unique_ptr<Reasoner>> reasoners;
    std::vector<ArchitectureCandidate> list;

    explicit Candidates(const std::vector<std::string>& ids) {
        for (const std::string& id : ids) {
            const Topology& topology = *shipped_knowledge().find_topology(id);
            plans.push_back(std::make_unique<FittedPlan>(shipped_knowledge(), topology));
            reasoners.push_back(std::make_unique<Reasoner>(std::make_shared<PredictionStore>(*plans.back())));
            list.push_back({&topology, reasoners.back().get()});
        }
    }
};

// The meter at either port of a machine with a dead controller at its second port.
std::vector<Reading> meter_at_both(const MachinePlan& plan, const FaultInstance& fault) {
    MachineModel model(plan, {fault}, PartDraw{});
    DcSolver solver;
    std::vector<Reading> readings;
    for (const char* port : {"p1", "p2"}) {
        const PoweredView view = look_at(model, plugged(port), solver);
        readings.push_back(
            meter_reading(port, plugged(port), view.meter.pattern, view.meter.volts, view.meter.amps));
    }
    return readings;
}

double now_of(const std::vector<ArchitectureShare>& shares, const std::string& topology) {
    for (const ArchitectureShare& share : shares) {
        if (share.topology == topology)
            return share.now;
    }
    return -1.0;
}

}  // namespace

TEST_CASE("kinds of machine are alike from outside by their inlets", "[architectures]") {
    const Knowledge& knowledge = shipped_knowledge();
    const auto alike = [&](const char* id) {
        return ids_of(alike_from_outside(knowledge, *knowledge.find_topology(id)));
    };
    CHECK(alike("usbc-single") == std::vector<std::string>{"usbc-single", "usbc-subboard"});
    CHECK(alike("barrel-sense") == std::vector<std::string>{"barrel-harness", "barrel-sense"});
    CHECK(alike("barrel-id") == std::vector<std::string>{"barrel-data", "barrel-id"});
    CHECK(alike("usbc-dual") == alike("usbc-two-chained"));
    CHECK(alike("usbc-four-pairs") == alike("usbc-four-chained"));
    // Every shipped kind says how often it is met: one that does not would never be thought of.
    for (const Topology& topology : knowledge.topologies)
        CHECK(topology.share > 0.0);
    // What the shop builds on a kind is known by its name, whatever share its base has.
    const nlohmann::json own_file{
        {"format", "eager-hound.topology/1"}, {"id", "own"}, {"based_on", "usbc-dual"}, {"title", "Own"}};
    const auto expanded = expand_topology(own_file, "own.json", [&](const std::string& id) {
        const auto found = knowledge.topology_files.find(id);
        return found == knowledge.topology_files.end() ? nullptr : &found->second;
    });
    CHECK_FALSE(expanded.contains("share"));
    Topology own = *knowledge.find_topology("usbc-dual");
    own.share = 0.0;
    CHECK(alike_from_outside(knowledge, own) == std::vector<const Topology*>{&own});
}

TEST_CASE("a port that works beside a dead controller speaks against controllers on one chain",
          "[architectures][slow]") {
    const Candidates candidates({"usbc-dual", chained});
    const auto before = weigh_architectures(candidates.list, {}, {});
    REQUIRE(before);
    for (const ArchitectureShare& share : *before)
        CHECK(share.now == Approx(share.met).epsilon(1e-6));

    // Port 1 charges as ever, port 2 gives nothing.
    const auto apart =
        meter_at_both(candidates.reasoners[0]->store()->plan(), {"receptacle_no_contact", "rec2"});
    // One dead controller holds both ports at 5 V.
    const auto on_chain = meter_at_both(candidates.reasoners[1]->store()->plan(), {"controller_dead", "pc1"});
    const auto of_apart = weigh_architectures(candidates.list, {}, apart);
    const auto of_chain = weigh_architectures(candidates.list, {}, on_chain);
    REQUIRE(of_apart);
    REQUIRE(of_chain);
    CHECK(now_of(*of_chain, chained) > now_of(*of_apart, chained));
    CHECK(now_of(*of_chain, chained) > 0.5);
    double sum = 0.0;
    for (const ArchitectureShare& share : *of_chain)
        sum += share.now;
    CHECK(sum == Approx(1.0));
}

TEST_CASE("readings that only one kind has a place for do not count", "[architectures][slow]") {
    const Candidates candidates({"usbc-dual", chained});
    auto readings = meter_at_both(candidates.reasoners[1]->store()->plan(), {"controller_dead", "pc1"});
    const auto with_shared = weigh_architectures(candidates.list, {}, readings);
    // A net that only the chain has.
    std::string own_net;
    const Topology& dual = *candidates.list[0].topology;
    for (const Net& net : candidates.list[1].topology->nets) {
        if (dual.find_net(net.id) == nullptr)
            own_net = net.id;
    }
    REQUIRE(!own_net.empty());
    readings.push_back(volts_reading("own", plugged("p1"), own_net, 1.234));
    const auto with_own = weigh_architectures(candidates.list, {}, readings);
    REQUIRE(with_own);
    CHECK(now_of(*with_own, chained) == now_of(*with_shared, chained));
}

TEST_CASE("readings that speak against a fixed kind are said so, and nothing else is", "[architectures]") {
    const std::vector<ArchitectureShare> against{{"a", 0.5, 0.03}, {"b", 0.3, 0.9}, {"c", 0.2, 0.07}};
    const ArchitectureShare* better = contradicting(against, "a");
    REQUIRE(better != nullptr);
    CHECK(better->topology == "b");
    CHECK(contradicting(against, "b") == nullptr);
    CHECK(contradicting(against, "not weighed") == nullptr);
    CHECK(contradicting({{"a", 0.5, 0.06}, {"b", 0.5, 0.94}}, "a") == nullptr);
    CHECK(contradicting({{"a", 0.3, 0.02}, {"b", 0.3, 0.49}, {"c", 0.4, 0.49}}, "a") == nullptr);
}
