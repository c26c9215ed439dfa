// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine model says on the CC line, and that hearing it comes to what the model predicts.
#include <catch2/catch.hpp>

#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"
#include "core/machine/simulation/port_talk.h"
#include "core/prediction/prediction_store.h"
#include "core/usbc/talk_writer.h"
#include "tests/support/shop.h"
#include "tests/support/talk.h"

using namespace eh;

namespace {

constexpr double recorded_s = 20.0;

struct Talk {
    NegotiationEnd predicted;
    std::vector<pd::Frame> frames;
};

Talk talk_at(const MachinePlan& plan, const std::vector<FaultInstance>& faults, const std::string& port,
             const PartDraw& draw) {
    MachineModel model(plan, faults, draw);
    BenchConfiguration bench;
    bench.port = port;
    DcSolver solver;
    const Course course = run_course(model, bench, solver);
    return {course.talk, port_talk(model, course, recorded_s)};
}

NegotiationEnd heard(const std::vector<pd::Frame>& frames, double wanted_volts) {
    return pd::read_negotiation(test::seen(frames), wanted_volts).end;
}

NegotiationEnd heard_on_the_line(const std::vector<pd::Frame>& frames, double wanted_volts) {
    std::vector<pd::SeenFrame> seen;
    pd::FrameReader reader([&](pd::Frame frame) { seen.push_back({std::move(frame), 1}); });
    for (const double edge : pd::edges_of(frames))
        reader.edge(edge);
    reader.finish();
    return pd::read_negotiation(seen, wanted_volts).end;
}

NegotiationEnd of_fault(const std::string& fault, const std::string& block, const std::string& port = "p1") {
    const FittedPlan plan(test::shipped_knowledge(),
                          *test::shipped_knowledge().find_topology("usbc-two-chained"));
    return talk_at(plan, {{fault, block}}, port, {}).predicted;
}

}  // namespace

TEST_CASE("what is heard of any machine with any fault comes to what the model predicts", "[usbc][machine]") {
    for (const Topology& topology : test::shipped_knowledge().topologies) {
        const FittedPlan plan(test::shipped_knowledge(), topology);
        std::vector<std::vector<FaultInstance>> machines{{}};
        for (const FaultSpec& spec : test::shipped_knowledge().catalogue.faults) {
            for (const PlanBlock& block : plan.blocks) {
                if (block.kind->id == spec.kind) {
                    machines.push_back({{spec.id, block.id}});
                    break;
                }
            }
        }
        for (const auto& faults : machines) {
            for (const std::uint64_t seed : {0U, 5U}) {
                PartDraw draw;
                draw.typical = seed == 0;
                draw.seed = seed;
                const Talk talk = talk_at(plan, faults, topology.ports.front().id, draw);
                CAPTURE(topology.id, faults.empty() ? "" : faults.front().fault, seed,
                        to_text(talk.predicted));
                CHECK(to_text(heard(talk.frames, topology.wanted_volts)) == to_text(talk.predicted));
                if (seed == 0)
                    CHECK(heard_on_the_line(talk.frames, topology.wanted_volts) == talk.predicted);
            }
        }
    }
}

TEST_CASE("faults say on the line what technicians find there", "[usbc][machine]") {
    // Trade notes, section 3 (common practice): Rd alone needs no living controller.
    const FittedPlan plan(test::shipped_knowledge(),
                          *test::shipped_knowledge().find_topology("usbc-two-chained"));
    CHECK(talk_at(plan, {}, "p1", {}).predicted == NegotiationEnd::contract);
    const std::string controller = "pc1";
    REQUIRE(plan.find_block(controller) >= 0);
    CHECK(of_fault("controller_stuck", controller) == NegotiationEnd::unanswered);
    CHECK(of_fault("controller_no_rd", controller) == NegotiationEnd::silent);
    CHECK(of_fault("controller_stuck_5v", controller) == NegotiationEnd::asked_less);
    CHECK(of_fault("memory_unreadable", "mem") == NegotiationEnd::unrequested);
    // The dead one keeps silent, its neighbour on the chain talks but dares not ask for more.
    CHECK(of_fault("controller_stuck", controller, "p2") == NegotiationEnd::asked_less);
}

TEST_CASE("a lead without a marker is asked in vain, and the offers stop at 3 A", "[usbc][machine]") {
    const FittedPlan plan(test::shipped_knowledge(),
                          *test::shipped_knowledge().find_topology("usbc-chained-100w"));
    const Port& port = plan.topology().ports.front();
    const std::string lead = plan.blocks[static_cast<std::size_t>(plan.lead_block(port.family))].id;
    const auto negotiated = [&](const std::vector<FaultInstance>& faults) {
        BenchConfiguration bench;
        bench.port = port.id;
        bench.charger = bench.lead = Owner::customer;
        MachineModel model(plan, faults, {});
        DcSolver solver;
        const Course course = run_course(model, bench, solver);
        return pd::read_negotiation(test::seen(port_talk(model, course, recorded_s)),
                                    plan.topology().wanted_volts);
    };
    const auto marked = negotiated({});
    REQUIRE(marked.cable);
    CHECK(marked.cable->amps == 5.0);
    CHECK(marked.contract_amps > 3.0);
    const FaultSpec* unmarked = nullptr;
    for (const FaultSpec& spec : test::shipped_knowledge().catalogue.faults) {
        for (const Effect& effect : spec.effects)
            unmarked = effect.type == EffectType::carries_up_to ? &spec : unmarked;
    }
    REQUIRE(unmarked != nullptr);
    const auto plain = negotiated({{unmarked->id, lead}});
    CHECK(plain.cable_asked);
    CHECK_FALSE(plain.cable);
    CHECK(plain.contract_amps == Approx(3.0));
}

TEST_CASE("habits that differ from make to make are met in their share among the draws", "[talk]") {
    // Estimates, 0.6 each; sixteen sets of parts are drawn.
    PredictionStore store(test::shared_table(test::chained).plan());
    const auto share = [&](const FaultInstance& fault, const std::string& port, NegotiationEnd end) {
        const auto machine = store.machine({fault});
        REQUIRE(store.simulate_views({machine}, test::plugged(port)));
        const auto views = store.views(machine, test::plugged(port));
        const auto weights = store.weights(machine);
        double sum = 0.0;
        for (std::size_t s = 0; s < views->size(); ++s)
            sum += (*views)[s].talk == end ? weights[s] : 0.0;
        return sum;
    };
    CHECK(share({"controller_stuck", "pc1"}, "p2", NegotiationEnd::asked_less) == Approx(0.6).margin(0.1));
    CHECK(share({"memory_unreadable", "mem"}, "p1", NegotiationEnd::unrequested) == Approx(0.6).margin(0.1));
    CHECK(share({"memory_unreadable", "mem"}, "p1", NegotiationEnd::asked_less) == Approx(0.0).margin(1e-9));
}
