// SPDX-License-Identifier: GPL-3.0-or-later
// Events of a trace as readings: the same numbers that a capture at that moment would have given.
#include "core/readings/trace_capture.h"
#include "core/machine/simulation/known_ohms.h"

#include <catch2/catch.hpp>

#include "core/machine/simulation/observation.h"
#include "tests/support/seen.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

struct Watched {
    std::vector<MeterSample> samples;
    TraceReading reading;
    BenchConfiguration bench;
};

Watched watch(const std::vector<FaultInstance>& faults, const char* port) {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    MachineModel model(plan, faults, PartDraw{});
    DcSolver solver;
    Watched watched;
    watched.bench.port = port;
    watched.samples = meter_stream(run_course(model, watched.bench, solver), 0.0, 60.0, 50.0);
    watched.reading = read_trace(watched.samples);
    return watched;
}

const TraceEvent* find(const TraceReading& reading, TraceEventKind kind) {
    for (const TraceEvent& event : reading.events) {
        if (event.kind == kind)
            return &event;
    }
    return nullptr;
}

}  // namespace

TEST_CASE("every event of a machine's stream becomes a reading of what the machine does",
          "[diagnosis][trace]") {
    const Watched sound = watch({}, "p1");
    int taken = 0;
    for (const TraceEvent& event : sound.reading.events) {
        const auto reading = reading_of(event, sound.reading, sound.samples, sound.bench);
        if (!reading.ok())
            continue;
        ++taken;
        CHECK(reading->kind() == ReadingKind::meter);
        CHECK(reading->configuration == sound.bench);
        CHECK(meter_of(*reading).pattern == MeterPattern::steady);
        CHECK_FALSE(reading->note.empty());
    }
    CHECK(taken >= 2);
    const TraceEvent* ramp = find(sound.reading, TraceEventKind::charge_ramp);
    REQUIRE(ramp != nullptr);
    const auto charging = reading_of(*ramp, sound.reading, sound.samples, sound.bench);
    REQUIRE(charging.ok());
    // What a technician would have captured in the same seconds.
    const MeterSummary settled = summarise(sound.samples, 40.0, 50.0);
    CHECK(meter_of(*charging).volts == Approx(settled.volts).epsilon(0.02));
    CHECK(meter_of(*charging).amps == Approx(settled.amps).epsilon(0.1));
}

TEST_CASE("a retry cycle is read as cycling with its period", "[diagnosis][trace]") {
    const Watched shorted = watch({{"protector_shorted", "sp2", 3.3, 3.0}}, "p2");
    const TraceEvent* cycle = find(shorted.reading, TraceEventKind::retry_cycle);
    REQUIRE(cycle != nullptr);
    const auto reading = reading_of(*cycle, shorted.reading, shorted.samples, shorted.bench);
    REQUIRE(reading.ok());
    CHECK(meter_of(*reading).pattern == MeterPattern::cycling);
    CHECK(meter_of(*reading).period_s == Approx(cycle->value).epsilon(0.1));
    // What the cycle consists of is not named beside it.
    const auto outline = outline_of(shorted.reading.events);
    CHECK(outline.size() < shorted.reading.events.size());
    CHECK(std::any_of(outline.begin(), outline.end(),
                      [](const TraceEvent& event) { return event.kind == TraceEventKind::retry_cycle; }));
}

TEST_CASE("a drop-out is a push that made it drop out, a pulled plug and a moment are no evidence",
          "[diagnosis][trace]") {
    const Watched sound = watch({}, "p1");
    TraceEvent event{TraceEventKind::drop_out, 30.0, 30.6, 0.6};
    const auto dropped = reading_of(event, sound.reading, sound.samples, sound.bench);
    REQUIRE(dropped.ok());
    CHECK(dropped->kind() == ReadingKind::wiggle);
    CHECK(std::get<WiggleReading>(dropped->value).drops_out);
    event.kind = TraceEventKind::pulled;
    CHECK_FALSE(reading_of(event, sound.reading, sound.samples, sound.bench).ok());
    event = {TraceEventKind::contract_step, sound.samples.back().t_s - 1.0, sound.samples.back().t_s - 1.0,
             20.0};
    CHECK_FALSE(reading_of(event, sound.reading, sound.samples, sound.bench).ok());
    BenchConfiguration unplugged = sound.bench;
    unplugged.charger_connected = false;
    event = {TraceEventKind::drop_out, 30.0, 30.6, 0.6};
    CHECK_FALSE(reading_of(event, sound.reading, sound.samples, unplugged).ok());
}
