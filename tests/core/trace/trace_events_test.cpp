// SPDX-License-Identifier: GPL-3.0-or-later
// Streams read as states and events: of machines of the model, and of streams made for one event each.
#include <catch2/catch.hpp>
#include <fstream>
#include <sstream>

#include "core/trace/time_blocks.h"
#include "core/trace/trace_csv.h"
#include "core/trace/trace_events.h"
#include "core/trace/wiggle.h"
#include "tests/support/streams.h"

using namespace eh;
using namespace eh::test;

namespace {

int count(const TraceReading& reading, TraceEventKind kind) {
    return static_cast<int>(std::count_if(reading.events.begin(), reading.events.end(),
                                          [&](const TraceEvent& event) { return event.kind == kind; }));
}

const TraceEvent& first(const TraceReading& reading, TraceEventKind kind) {
    const auto found = std::find_if(reading.events.begin(), reading.events.end(),
                                    [&](const TraceEvent& event) { return event.kind == kind; });
    REQUIRE(found != reading.events.end());
    return *found;
}

}  // namespace

TEST_CASE("every contract level is named, whatever its make of charger sets", "[trace]") {
    for (const double level : {5.0, 9.0, 12.0, 15.0, 20.0, 28.0, 36.0, 48.0}) {
        for (const double off : {-0.04, 0.0, 0.04}) {
            const auto reading = read_trace(stream_of({{5.0, level * (1.0 + off), 0.1, 0.1}}));
            REQUIRE(reading.spans.size() == 1);
            CHECK(reading.spans[0].state == TraceState::contract);
            CHECK(reading.spans[0].nominal_volts == level);
        }
    }
    const auto between = read_trace(stream_of({{5.0, 17.2, 0.5, 0.5}}));
    CHECK(between.spans[0].state == TraceState::programmable);
    const auto pulled_down = read_trace(stream_of({{3.0, 3.5, 2.9, 2.9}}));
    CHECK(pulled_down.spans[0].state == TraceState::fold_back);
}

TEST_CASE("a machine that charges attaches, steps up, starts and climbs", "[trace]") {
    const auto reading = read_trace(stream_of({{2.0, 5.0, 0.02, 0.02},
                                               {4.0, 20.0, 0.02, 0.03},
                                               {6.0, 20.0, 0.4, 0.7},
                                               {5.0, 20.0, 0.7, 1.6},
                                               {0.5, 20.0, 0.05, 0.05},
                                               {6.0, 20.0, 0.8, 2.2},
                                               {20.0, 20.0, 2.2, 2.2}},
                                              3, 0.15));
    CHECK(count(reading, TraceEventKind::attach) == 1);
    CHECK(count(reading, TraceEventKind::contract_step) == 1);
    CHECK(first(reading, TraceEventKind::contract_step).value == 20.0);
    CHECK(first(reading, TraceEventKind::contract_step).t_s == Approx(2.0).margin(0.05));
    CHECK(count(reading, TraceEventKind::boot) == 1);
    CHECK(count(reading, TraceEventKind::charge_ramp) == 1);
    CHECK(first(reading, TraceEventKind::charge_ramp).value == Approx(2.2).epsilon(0.05));
    // It may climb, fall to nothing and climb again while it starts: that is not a drop-out (trade notes,
    // common practice).
    CHECK(count(reading, TraceEventKind::drop_out) == 0);
    CHECK(count(reading, TraceEventKind::retry_cycle) == 0);
    REQUIRE(reading.source);
    CHECK(reading.source->low_ohms < 0.15);
    CHECK(reading.source->high_ohms > 0.15);
}

TEST_CASE("drop-outs, a plug that is pulled and a rhythm of retries are told apart", "[trace]") {
    const Stretch charging{6.0, 20.0, 1.2, 1.2};
    const auto flicker =
        read_trace(stream_of({charging, {0.8, 0, 0, 0}, charging, {1.1, 0, 0, 0}, {9.0, 20.0, 1.2, 1.2}}));
    CHECK(count(flicker, TraceEventKind::drop_out) == 2);
    CHECK(count(flicker, TraceEventKind::pulled) == 0);
    CHECK(count(flicker, TraceEventKind::retry_cycle) == 0);
    const auto moved = read_trace(stream_of({charging, {7.0, 0, 0, 0}, charging}));
    CHECK(count(moved, TraceEventKind::pulled) == 1);
    CHECK(count(moved, TraceEventKind::drop_out) == 0);
    std::vector<Stretch> retries;
    for (int i = 0; i < 8; ++i) {
        retries.push_back({0.4, 5.0, 0.2, 0.2});
        retries.push_back({0.95, 0, 0, 0});
    }
    const auto cycling = read_trace(stream_of(retries));
    REQUIRE(count(cycling, TraceEventKind::retry_cycle) == 1);
    CHECK(first(cycling, TraceEventKind::retry_cycle).value == Approx(1.35).epsilon(0.05));
    CHECK(count(cycling, TraceEventKind::drop_out) == 0);
}

TEST_CASE("a source that gives way under load, and a battery that fills", "[trace]") {
    const auto falls = read_trace(stream_of({{4.0, 20.0, 0.1, 0.1}, {4.0, 16.6, 1.4, 1.4}}));
    CHECK(count(falls, TraceEventKind::contract_step) + count(falls, TraceEventKind::collapse) >= 1);
    const auto sags = read_trace(stream_of({{4.0, 20.9, 0.1, 0.1}, {4.0, 18.5, 1.4, 1.4}}));
    CHECK(count(sags, TraceEventKind::collapse) == 0);  // both are within the contract: that is resistance
    const auto fills = read_trace(stream_of({{3.0, 20.0, 0.1, 2.0}, {200.0, 20.0, 2.0, 1.1}}));
    CHECK(count(fills, TraceEventKind::taper) == 1);
    const auto steady = read_trace(stream_of({{3.0, 20.0, 0.1, 2.0}, {200.0, 20.0, 2.0, 2.0}}));
    CHECK(count(steady, TraceEventKind::taper) == 0);
}

TEST_CASE("streams of the machine model read as what the model did", "[trace]") {
    const auto sound = read_trace(stream_of_machine({}, Protection::hiccup));
    CHECK(count(sound, TraceEventKind::attach) == 1);
    CHECK(sound.spans.back().nominal_volts == 20.0);
    CHECK(count(sound, TraceEventKind::charge_ramp) == 1);
    // An inlet shorted behind the sink switch: a charger that hiccups comes and goes.
    const auto shorted =
        read_trace(stream_of_machine({{"capacitor_shorted", "cin", 1.0}}, Protection::hiccup));
    CHECK(count(shorted, TraceEventKind::charge_ramp) == 0);
    const auto dead = read_trace(stream_of_machine({{"controller_stuck", "pc1"}}, Protection::hiccup));
    REQUIRE_FALSE(dead.spans.empty());
    CHECK(dead.spans.back().nominal_volts == 5.0);
    CHECK(count(dead, TraceEventKind::contract_step) == 0);
}

TEST_CASE("the interval of a source's resistance holds the truth nineteen times in twenty", "[trace]") {
    int held = 0;
    constexpr int runs = 400;
    for (int run = 0; run < runs; ++run) {
        const auto estimate =
            source_resistance(stream_of({{2.0, 20.0, 0.3, 0.3}, {2.0, 20.0, 1.6, 1.6}, {2.0, 20.0, 0.8, 2.0}},
                                        static_cast<std::uint64_t>(run), 0.18));
        REQUIRE(estimate);
        held += estimate->low_ohms <= 0.18 && estimate->high_ohms >= 0.18 ? 1 : 0;
        CHECK(estimate->volts_at_no_load == Approx(20.0).epsilon(0.002));
    }
    CHECK(held > 0.91 * runs);
    CHECK(held < 0.99 * runs);
    CHECK_FALSE(source_resistance(stream_of({{5.0, 20.0, 1.0, 1.05}})).has_value());
    CHECK_FALSE(source_resistance({}).has_value());
}

TEST_CASE("contact resistance is what is lost between meter and board", "[trace]") {
    // Trade notes (common practice): (meter volts - volts on the board) / amps.
    const auto contact = contact_resistance(19.8, 19.5, 2.0, 0.01, 0.01);
    REQUIRE(contact);
    CHECK(contact->ohms == Approx(0.15));
    CHECK(contact->heat_watts == Approx(0.6));
    CHECK(contact->sigma_ohms == Approx(0.0070711).epsilon(1e-4));
    CHECK_FALSE(contact_resistance(19.8, 19.5, 0.02, 0.01, 0.01).has_value());
}

TEST_CASE("traces go to CSV and come back, odd lines are counted, not fatal", "[trace]") {
    const auto samples = stream_of({{2.0, 20.0, 0.3, 1.0}});
    std::stringstream file;
    write_trace_csv(file, samples);
    const auto back = read_trace_csv(file, "trace.csv");
    REQUIRE(back);
    REQUIRE(back->samples.size() == samples.size());
    for (std::size_t i = 0; i < samples.size(); ++i) {
        CHECK(back->samples[i].t_s == Approx(samples[i].t_s).margin(1e-6));
        CHECK(back->samples[i].volts == Approx(samples[i].volts).margin(1e-4));
        CHECK(back->samples[i].amps == Approx(samples[i].amps).margin(1e-6));
    }
    std::stringstream odd(
        "t_s,volts,amps\n0.0,5.0,0.1\nthe meter was moved here\n0.1,5.0\n# "
        "note\n0.2,5.1,0.2,25.3\r\n0.3,5.1,nan");
    const auto read = read_trace_csv(odd, "odd.csv");
    REQUIRE(read);
    CHECK(read->samples.size() == 2);
    CHECK(read->odd_lines == 3);
    std::stringstream back_in_time("t_s,volts,amps\n1.0,5,0\n0.5,5,0\n");
    const auto refused = read_trace_csv(back_in_time, "x.csv");
    REQUIRE_FALSE(refused);
    CHECK(refused.error().text().find("x.csv, line 3") == 0);
    std::stringstream nothing("t_s,volts,amps\n");
    CHECK_FALSE(read_trace_csv(nothing, "x.csv").ok());
    std::stringstream beyond("0,5,0\n6.6e37,20.01,1.4\n");
    const auto beyond_any_clock = read_trace_csv(beyond, "x.csv");
    REQUIRE_FALSE(beyond_any_clock);
    CHECK(beyond_any_clock.error().text().find("x.csv, line 2") == 0);
}

TEST_CASE("times in which a second is lost in the rounding still give blocks that get on", "[trace]") {
    // Found by fuzzing: blocks without a sample were read behind their end.
    const std::vector<MeterSample> samples{{6.6e37, 20.0, 1.4}, {6.6e37, 20.0, 1.5}, {6.7e37, 20.0, 1.4}};
    CHECK(end_of_block(samples, 0, 1.0) == 1);
    CHECK(end_of_block(samples, 2, 1.0) == 3);
    const TraceReading reading = read_trace(samples);
    REQUIRE_FALSE(reading.spans.empty());
    for (const TraceSpan& span : reading.spans)
        CHECK(span.from_s <= span.to_s);
    const WiggleReport wiggle = read_wiggle(samples, {{WiggleDirection::rest, 6.5e37, 6.8e37}});
    CHECK(wiggle.stretches.size() == 1);
}

TEST_CASE("a recording is read by what its first line says of its columns", "[trace][hostile]") {
    const auto read = [](const std::string& text) {
        std::istringstream file(text);
        return read_trace_csv(file, "x.csv");
    };
    for (const char* same :
         {"t_s,volts,amps\n0.5,5,0.1\n", "t_s,amps,volts\n0.5,0.1,5\n", "t_ms,volts,amps\n500,5,0.1\n",
          "\xEF\xBB\xBFt_us,milliamps,note,millivolts\r\n500000,100,x,5000\r\n", "0.5,5,0.1\n",
          "# from the bench\nt_s,volts,amps,temp_c\n0.5,5,0.1,31\n", "zeit,spannung,strom\n0.5,5,0.1\n"}) {
        CAPTURE(same);
        const auto trace = read(same);
        REQUIRE(trace.ok());
        REQUIRE(trace->samples.size() == 1);
        CHECK(trace->samples[0].t_s == Approx(0.5));
        CHECK(trace->samples[0].volts == Approx(5.0));
        CHECK(trace->samples[0].amps == Approx(0.1));
    }
    CHECK_FALSE(read("t_s,volts\n0.5,5\n").ok());
    const auto beyond = read("t_s,volts,amps\n0.5,20000,0.1\n");
    REQUIRE_FALSE(beyond.ok());
    CHECK_THAT(beyond.error().place, Catch::Contains("line 2"));
    CHECK(names_trace_columns("t_s,amps,volts"));
    CHECK_FALSE(names_trace_columns("t_s,cc1_volts,cc2_volts"));
    for (const char* file : {"trace-columns-swapped.csv", "trace-milliseconds.csv"}) {
        std::ifstream stream(std::string(EH_SOURCE_DIR "/tests/data/traces/") + file);
        const auto trace = read_trace_csv(stream, file);
        REQUIRE(trace.ok());
        const auto& last = trace->samples.back();
        CHECK(last.t_s < 10.0);
        CHECK(last.volts > last.amps);
    }
}
