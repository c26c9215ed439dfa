// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proof/proof.h"
#include "core/machine/simulation/known_ohms.h"

#include <algorithm>

#include "core/machine/simulation/observation.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

Job repaired_job() {
    Job job;
    job.ticket.topology = chained;
    job.bench = plugged("p1");
    job.bench.replaced = {"sp2"};
    Act act;
    act.id = "a1";
    act.kind = Work::replace;
    act.block = "sp2";
    job.acts = {act};
    return job;
}

Reading shown_by(const std::vector<FaultInstance>& faults, const BenchConfiguration& configuration) {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    MachineModel model(plan, faults, {});
    DcSolver solver;
    Reading reading;
    reading.id = "r";
    reading.configuration = configuration;
    reading.value = MeterReading{look_at(model, configuration, solver).meter, true};
    return reading;
}

}  // namespace

TEST_CASE("every port, both ways up, is on the list, and the part worked on must stay cool", "[proof]") {
    const auto steps = plan_proof(topology(chained), repaired_job());
    for (const char* port : {"p1", "p2"}) {
        for (const PlugSide side : {PlugSide::a, PlugSide::b}) {
            CHECK(std::any_of(steps.begin(), steps.end(), [&](const ProofStep& step) {
                return step.kind == ReadingKind::meter && step.configuration.port == port &&
                       step.configuration.side == side && step.configuration.charger == Owner::bench;
            }));
        }
    }
    const auto is = [&](ReadingKind kind) {
        return std::count_if(steps.begin(), steps.end(),
                             [&](const ProofStep& step) { return step.kind == kind; });
    };
    CHECK(is(ReadingKind::wiggle) == 2);
    CHECK(is(ReadingKind::firmware) == 1);
    CHECK(is(ReadingKind::hot_part) == 1);
    // Each port and side with the customer's charger too.
    CHECK(std::count_if(steps.begin(), steps.end(), [](const ProofStep& step) {
              return step.kind == ReadingKind::meter && step.configuration.charger == Owner::customer;
          }) == 4);
}

TEST_CASE("the customer's charger is no proof when it was the fault", "[proof]") {
    Job job = repaired_job();
    job.acts.front().block = charger_block_id("usb-c");
    const auto steps = plan_proof(topology(chained), job);
    CHECK(std::none_of(steps.begin(), steps.end(),
                       [](const ProofStep& step) { return step.configuration.charger == Owner::customer; }));
}

TEST_CASE("what no meter reads is on the list too, once a port or once", "[proof]") {
    const auto& checks = shipped_knowledge().proof_checks;
    const auto steps = plan_proof(topology(chained), repaired_job(), checks);
    const auto count = [&](const std::string& id) {
        return std::count_if(steps.begin(), steps.end(),
                             [&](const ProofStep& step) { return step.check == id; });
    };
    CHECK(count("data") == 2);
    for (const char* id :
         {"battery", "percent", "fan", "keyboard", "display", "radio", "sound", "soak", "closed"})
        CHECK(count(id) == 1);
    // A barrel jack has no data lines.
    const auto on_barrel = plan_proof(topology(barrel), repaired_job(), checks);
    CHECK(std::none_of(on_barrel.begin(), on_barrel.end(),
                       [](const ProofStep& step) { return step.check == "data"; }));
    // A reading never decides a check.
    Reading look;
    look.value = LookReading{};
    auto open = steps;
    CHECK(step_for(open, look) == nullptr);
    CHECK_FALSE(same_step(steps.front(), steps.back()));
    for (
        const char* wrong :
        {R"({"format":"eager-hound.proof-checks/1","checks":[{"id":"a","says":"x","needs":"luck"}]})",
         R"({"format":"eager-hound.proof-checks/1","checks":[{"id":"a","says":"x","needs":"timer"}]})",
         R"({"format":"eager-hound.proof-checks/1","checks":[{"id":"a","says":"x"},{"id":"a","says":"y"}]})"})
        CHECK_FALSE(parse_proof_checks(wrong, "mine.json").ok());
}

TEST_CASE("a sound machine passes, one that does not charge fails", "[proof]") {
    PredictionStore& store = *shared_table(chained).store();
    for (const char* port : {"p1", "p2"}) {
        const ProofVerdict sound = judge(store, shown_by({}, plugged(port)));
        INFO(sound.reason);
        CHECK(sound.passed);
    }
    const std::vector<FaultInstance> faults{{"memory_unreadable", "mem"}, {"battery_dead", "bat"},
                                            {"switch_open", "sw1"},       {"mainboard_no_start", "mb"},
                                            {"controller_dead", "pc2"},   {"protector_shorted", "sp1"}};
    for (const FaultInstance& fault : faults) {
        const ProofVerdict verdict = judge(store, shown_by({fault}, plugged("p1")));
        CAPTURE(fault.fault, verdict.reason);
        CHECK_FALSE(verdict.passed);
        CHECK(verdict.reason.size() > 20);
    }
}

TEST_CASE("a step takes only a reading taken as it asks", "[proof]") {
    auto steps = plan_proof(topology(chained), repaired_job());
    Reading reading = shown_by({}, plugged("p2", PlugSide::b));
    ProofStep* step = step_for(steps, reading);
    REQUIRE(step != nullptr);
    CHECK(step->configuration.port == "p2");
    CHECK(step->configuration.side == PlugSide::b);
    // Pressing power is how some machines start; a plug that must be held, or a tester, proves nothing.
    reading.configuration.button = Button::pressed;
    CHECK(step_for(steps, reading) == step);
    reading.configuration.plug_held = true;
    CHECK(step_for(steps, reading) == nullptr);
    reading.configuration.plug_held = false;
    reading.configuration.tester = Tester::loaded;
    CHECK(step_for(steps, reading) == nullptr);
    reading.configuration.tester = Tester::none;
    reading.configuration.battery_in = false;
    CHECK(step_for(steps, reading) == nullptr);
}

TEST_CASE("proof is complete when nothing is open or failed", "[proof]") {
    auto steps = plan_proof(topology(chained), repaired_job());
    CHECK_FALSE(proof_complete({}));
    CHECK_FALSE(proof_complete(steps));
    for (ProofStep& step : steps)
        step.state = ProofState::passed;
    CHECK(proof_complete(steps));
    steps.back().state = ProofState::waived;
    CHECK(proof_complete(steps));
    steps.back().state = ProofState::failed;
    CHECK_FALSE(proof_complete(steps));
}
