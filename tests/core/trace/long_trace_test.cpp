// SPDX-License-Identifier: GPL-3.0-or-later
// Recordings read in pieces: a cut must not be seen in what is told.
#include "core/trace/long_trace.h"

#include <algorithm>
#include <array>

#include <catch2/catch.hpp>

#include "core/base/random.h"
#include "tests/support/streams.h"

using namespace eh;
using namespace eh::test;

namespace {

TraceReading in_pieces(const std::vector<MeterSample>& samples, std::size_t piece) {
    LongTrace trace(piece);
    const std::span<const MeterSample> all(samples);
    constexpr std::size_t odd_helping = 777;
    for (std::size_t i = 0; i < all.size(); i += odd_helping)
        trace.append(all.subspan(i, std::min(odd_helping, all.size() - i)));
    CHECK(trace.samples() == samples.size());
    return trace.finish();
}

void same_spans(const std::vector<TraceSpan>& pieces, const std::vector<TraceSpan>& whole) {
    constexpr double some_samples_s = 0.1;
    REQUIRE(pieces.size() == whole.size());
    for (std::size_t s = 0; s < whole.size(); ++s) {
        INFO("span " << s << " from " << whole[s].from_s << " s");
        CHECK(pieces[s].state == whole[s].state);
        CHECK(pieces[s].nominal_volts == whole[s].nominal_volts);
        CHECK(pieces[s].from_s == Approx(whole[s].from_s).margin(some_samples_s));
        CHECK(pieces[s].to_s == Approx(whole[s].to_s).margin(some_samples_s));
        CHECK(pieces[s].volts == Approx(whole[s].volts).margin(0.01));
        CHECK(pieces[s].amps == Approx(whole[s].amps).margin(0.01));
    }
}

void same_events(const std::vector<TraceEvent>& pieces, const std::vector<TraceEvent>& whole) {
    REQUIRE(pieces.size() == whole.size());
    for (std::size_t e = 0; e < whole.size(); ++e) {
        INFO("event " << e << ": " << describe(whole[e]) << " against " << describe(pieces[e]));
        CHECK(pieces[e].kind == whole[e].kind);
        CHECK(pieces[e].t_s == Approx(whole[e].t_s).margin(0.1));
        CHECK(pieces[e].until_s == Approx(whole[e].until_s).margin(0.1));
        CHECK(pieces[e].value == Approx(whole[e].value).epsilon(0.03).margin(0.02));
    }
}

}  // namespace

TEST_CASE("a recording read in pieces is read as in one", "[trace]") {
    const Stretch at_20{6.0, 20.0, 0.4, 0.4};
    const std::vector<MeterSample> handled = stream_of({{4.0, 5.0, 0.02, 0.02},
                                                        {6.0, 20.0, 0.02, 0.02},
                                                        {0.7, 0, 0, 0},
                                                        at_20,
                                                        {9.0, 0, 0, 0},
                                                        at_20,
                                                        {1.5, 0, 0, 0},
                                                        {5.0, 9.0, 0.1, 0.1},
                                                        {7.0, 15.0, 0.5, 0.5},
                                                        {8.0, 17.3, 0.5, 0.5},
                                                        at_20});
    std::vector<Stretch> beats;
    for (int i = 0; i < 90; ++i) {
        beats.push_back({0.9, 5.0, 0.1, 0.1});
        beats.push_back({0.4, 0, 0, 0});
    }
    const std::vector<MeterSample> retrying = stream_of(beats);
    for (const std::size_t piece : {800UL, 1024UL, 1500UL}) {
        for (const auto* samples : {&handled, &retrying}) {
            const TraceReading whole = read_trace(*samples);
            const TraceReading pieces = in_pieces(*samples, piece);
            INFO("pieces of " << piece);
            same_spans(pieces.spans, whole.spans);
            same_events(pieces.events, whole.events);
        }
    }
}

TEST_CASE("a contract longer than a piece is one span with one source", "[trace]") {
    const std::vector<MeterSample> samples = stream_of(
        {{3.0, 5.0, 0.0, 0.0}, {400.0, 20.0, 0.5, 2.5}, {2.0, 0, 0, 0}, {3.0, 5.0, 0.0, 0.0}}, 4, 0.15);
    const TraceReading whole = read_trace(samples);
    const TraceReading pieces = in_pieces(samples, 2000);
    same_spans(pieces.spans, whole.spans);
    REQUIRE(pieces.source);
    CHECK(pieces.source->low_ohms < 0.15);
    CHECK(pieces.source->high_ohms > 0.15);
}

TEST_CASE("a taper is told across the cut with what it lost in all", "[trace]") {
    const std::vector<MeterSample> samples = stream_of({{600.0, 20.0, 2.4, 0.4}});
    const TraceReading pieces = in_pieces(samples, 15'000);
    int tapers = 0;
    for (const TraceEvent& event : pieces.events)
        tapers += event.kind == TraceEventKind::taper ? 1 : 0;
    CHECK(tapers == 1);
}

TEST_CASE("a machine's stream in pieces, and nothing at all", "[trace]") {
    const auto samples = stream_of_machine({{"capacitor_shorted", "cin", 1.0}}, Protection::hiccup);
    const TraceReading whole = read_trace(samples);
    same_spans(in_pieces(samples, 300).spans, whole.spans);
    CHECK(LongTrace().finish().spans.empty());
}

// Each of these took time that grew with the square of the recording, or never ended: read so, they would run
// for hours.

TEST_CASE("a clock that stands still ends no reading", "[trace][long]") {
    std::vector<MeterSample> samples(300'000, MeterSample{7.0, 20.0, 1.0});
    LongTrace trace(10'000);
    trace.append(samples);
    const TraceReading read = trace.finish();
    CHECK(read.spans.size() >= 1);
    CHECK(read.spans.front().volts == Approx(20.0));
}

TEST_CASE("a plug that is moved all day makes many events in time that grows as they do", "[trace][long]") {
    std::vector<MeterSample> samples;
    double t_s = 0.0;
    Random random(5);
    constexpr int times = 150'000;
    for (int i = 0; i < times; ++i) {
        for (int k = 0; k < 4; ++k)
            samples.push_back({t_s += 0.02, 5.0, 0.1});
        t_s += 1.0 + 20.0 * random.uniform() * random.uniform();
    }
    LongTrace trace;
    trace.append(samples);
    const TraceReading read = trace.finish();
    CHECK(read.events.size() > times);
    // Named once is named: an outline has no more to leave out.
    const auto outline = outline_of(read.events);
    CHECK(outline_of(outline).size() == outline.size());
}

TEST_CASE("an outline leaves out just what lies within a retry cycle and is a part of one", "[trace]") {
    // Against the definition, each event with each cycle.
    const std::array parts{TraceEventKind::attach, TraceEventKind::contract_step, TraceEventKind::boot,
                           TraceEventKind::collapse};
    const std::array kinds{TraceEventKind::attach,   TraceEventKind::contract_step,
                           TraceEventKind::boot,     TraceEventKind::collapse,
                           TraceEventKind::drop_out, TraceEventKind::retry_cycle};
    Random random(17);
    std::vector<TraceEvent> events;
    for (int i = 0; i < 3000; ++i) {
        TraceEvent event;
        event.kind = kinds[static_cast<std::size_t>(random.below(static_cast<int>(kinds.size())))];
        event.t_s = 3000.0 * random.uniform();
        event.until_s =
            event.t_s + (event.kind == TraceEventKind::retry_cycle ? 2.0 * random.uniform() : 0.0);
        event.value = i;
        events.push_back(event);
    }
    std::vector<double> kept;
    for (const TraceEvent& event : events) {
        const bool part = std::find(parts.begin(), parts.end(), event.kind) != parts.end();
        const bool within = std::any_of(events.begin(), events.end(), [&](const TraceEvent& cycle) {
            return cycle.kind == TraceEventKind::retry_cycle && cycle.t_s <= event.t_s &&
                   event.t_s <= cycle.until_s;
        });
        if (!part || !within)
            kept.push_back(event.value);
    }
    std::vector<double> outlined;
    for (const TraceEvent& event : outline_of(events))
        outlined.push_back(event.value);
    CHECK(outlined == kept);
    CHECK(kept.size() < events.size() * 9 / 10);
}

TEST_CASE("levels of one contract that alternate are one span", "[trace][long]") {
    std::vector<MeterSample> samples;
    for (int i = 0; i < 600'000; ++i)
        samples.push_back({0.001 * i, i / 3 % 2 == 0 ? 19.2 : 20.8, 1.0});
    const TraceReading read = read_trace(samples);
    REQUIRE(read.spans.size() == 1);
    CHECK(read.spans.front().volts == Approx(20.0).epsilon(1e-6));
    CHECK(read.spans.front().to_s == samples.back().t_s);
}
