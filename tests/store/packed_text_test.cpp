// SPDX-License-Identifier: GPL-3.0-or-later
// Packing of texts: gives back what went in, refuses what it did not make, and is small on what a shop has.
#include "store/packed_text.h"

#include "core/base/random.h"
#include "core/job/job_json.h"
#include "core/job/sheet_trace.h"
#include "core/readings/reading_json.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("packed texts come back as they went in", "[store][packed]") {
    Random random(11);
    for (int round = 0; round < 200; ++round) {
        std::string text;
        const int length = random.below(round < 100 ? 60 : 40'000);
        for (int i = 0; i < length; ++i)
            text += static_cast<char>(round % 2 == 0 ? random.below(256) : 'a' + random.below(4));
        const auto back = unpack_text(pack_text(text), "x");
        REQUIRE(back.ok());
        REQUIRE(*back == text);
    }
}

TEST_CASE("what was not packed here, or only in part, is refused", "[store][packed]") {
    const QByteArray whole = pack_text("a text of some length, so that it can be cut");
    CHECK_FALSE(unpack_text({}, "x").ok());
    CHECK(unpack_text("\x09later", "x").error().kind == ErrorKind::newer_version);
    for (qsizetype cut = 1; cut < whole.size(); ++cut)
        CHECK_FALSE(unpack_text(whole.left(cut), "x").ok());
    CHECK_FALSE(unpack_text(whole + "more", "x").ok());
    // A small file may unfold into a huge one: that is ended.
    CHECK_FALSE(unpack_text(pack_text(std::string(std::size_t{80} << 20, 'a')), "x").ok());
}

TEST_CASE("a reading takes a fraction of its text", "[store][packed]") {
    Reading reading =
        meter_reading("r17", plugged("p1", PlugSide::b), MeterPattern::steady, 20.0312, 1.2345678);
    auto& meter = std::get<MeterReading>(reading.value).meter;
    meter.volts_spread = 0.01234567;
    meter.amps_spread = 0.03456789;
    meter.peak_amps = 1.3456789;
    reading.taken_ms = 1'764'163'845'123;
    reading.source = "captured";
    const std::string text = reading_to_text(reading);
    CHECK(text.size() > 300);
    CHECK(pack_text(text).size() < 130);
}

TEST_CASE("the handover's small traces take at most eight bytes a sample", "[store][packed]") {
    // Forty seconds at 50 Hz, as a meter with four decimals sends it: noise of a few millivolts and
    // milliamperes.
    Random random(5);
    std::vector<MeterSample> samples;
    for (int i = 0; i < 2000; ++i)
        samples.push_back({1.7e9 + 0.02 * i, std::round(1e4 * (19.8 + 0.003 * random.normal())) / 1e4,
                           std::round(1e4 * (1.4 + 0.005 * random.normal())) / 1e4});
    Job job;
    const auto size = [&] { return pack_text(job_to_text(job)).size(); };
    const auto before = size();
    keep_sheet_trace(job, "r1", samples);
    const auto kept = job.handover.traces.before.samples.size();
    REQUIRE(kept > 100);
    CHECK(size() - before <= static_cast<qsizetype>(8 * kept));
}
