// SPDX-License-Identifier: GPL-3.0-or-later
// What a job waits for by itself and by what was written down, and the small traces of the sheet.
#include "core/job/waiting.h"

#include "core/base/random.h"
#include "core/job/job.h"

using namespace eh;

TEST_CASE("a job waits for what its stage says until somebody writes another thing down", "[waiting]") {
    Job job;
    CHECK(wait_state(job) == WaitState{WaitsFor::bench, 0});
    job.stage = JobStage::handover;
    CHECK(wait_state(job).on == WaitsFor::customer);
    job.stage = JobStage::proof;
    job.proof.emplace_back();
    job.proof.back().minutes = 60.0;
    CHECK(wait_state(job).on == WaitsFor::bench);
    job.proof.back().started_ms = 1'000'000;
    CHECK(wait_state(job) == WaitState{WaitsFor::soak, 1'000'000 + 3'600'000});
    job.proof.back().state = ProofState::passed;
    CHECK(wait_state(job).on == WaitsFor::bench);
    job.waiting.on = WaitsFor::part;
    job.waiting.due_ms = 5;
    CHECK(wait_state(job) == WaitState{WaitsFor::part, 5});
    job.waiting = {};
    job.stage = JobStage::closed;
    CHECK(wait_state(job).on == WaitsFor::nothing);
    job.handover.follow_up_ms = 9;
    CHECK(wait_state(job) == WaitState{WaitsFor::follow_up, 9});
    for (int i = 0; i < waits_for_count; ++i)
        CHECK(waits_for_from(to_text(static_cast<WaitsFor>(i))) == static_cast<WaitsFor>(i));
    CHECK_FALSE(waits_for_from("godot").has_value());
}

TEST_CASE("the sheet keeps the first trace before the work and the last one after it", "[waiting][sheet]") {
    const auto trace = [](double volts) {
        return std::vector<MeterSample>{{10.0, volts, 0.1}, {10.5, volts, 0.2}};
    };
    Job job;
    keep_sheet_trace(job, "r1", trace(5.0));
    keep_sheet_trace(job, "r2", trace(6.0));
    CHECK(job.handover.traces.before.reading_id == "r1");
    CHECK(job.handover.traces.before.samples == std::vector<MeterSample>{{0.0, 5.0, 0.1}, {0.5, 5.0, 0.2}});
    job.acts.emplace_back();
    keep_sheet_trace(job, "r3", trace(20.0));
    keep_sheet_trace(job, "r4", trace(20.1));
    CHECK(job.handover.traces.before.reading_id == "r1");
    CHECK(job.handover.traces.after.reading_id == "r4");
    // A dark port is a trace too: nothing came.
    keep_sheet_trace(job, "r5", {});
    CHECK(job.handover.traces.after.reading_id == "r5");
    CHECK(job.handover.traces.after.samples.empty());
}

TEST_CASE("a long trace is thinned so that every swing stays", "[waiting][sheet]") {
    Random random(3);
    std::vector<MeterSample> samples;
    for (int i = 0; i < 20'000; ++i)
        samples.push_back({0.001 * i, i == 7777 ? 21.5 : 20.0 + 0.01 * random.normal(), 1.0});
    samples[12'345].volts = 0.3;
    Job job;
    keep_sheet_trace(job, "r1", samples);
    const auto& kept = job.handover.traces.before.samples;
    CHECK(kept.size() <= 150);
    const auto [low, high] =
        std::minmax_element(kept.begin(), kept.end(),
                            [](const MeterSample& a, const MeterSample& b) { return a.volts < b.volts; });
    CHECK(low->volts == 0.3);
    CHECK(high->volts == 21.5);
    CHECK(std::is_sorted(kept.begin(), kept.end(),
                         [](const MeterSample& a, const MeterSample& b) { return a.t_s < b.t_s; }));
}
