// SPDX-License-Identifier: GPL-3.0-or-later
// The recording on disk against the samples that went into it.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>

#include "core/base/random.h"
#include "core/trace/trace_record.h"
#include "tests/support/disk_limit.h"
#include "tests/support/own_memory.h"
#include "tests/support/own_path.h"

using namespace eh;

namespace {

// A file that is gone when the test is.
struct RecordFile {
    std::filesystem::path path = test::own_path("record.trace");
    RecordFile() { std::filesystem::remove(path); }
    ~RecordFile() { std::filesystem::remove(path); }
};

std::unique_ptr<TraceRecord> opened(const RecordFile& file) {
    auto record = TraceRecord::open(file.path);
    REQUIRE(record.ok());
    return std::move(record).value();
}

// Bursts of different rates with dark times between them, in steps that both a word of the file and a float
// hold exactly: times of 10 us, volts and amps of 1/32.
std::vector<MeterSample> bursts(std::uint64_t seed, int count) {
    Random random(seed);
    std::vector<MeterSample> samples;
    double t_s = 1.7e9;
    double step_s = 0.001;
    for (int i = 0; i < count; ++i) {
        if (random.uniform() < 0.0005) {
            t_s += std::round(6e6 * random.uniform()) / 1e5;
            step_s = random.uniform() < 0.5 ? 0.001 : 1.0;
        }
        t_s = std::round((t_s + step_s) * 1e5) / 1e5;
        samples.push_back(
            {t_s, std::round(640.0 * random.uniform()) / 32.0, std::round(96.0 * random.uniform()) / 32.0});
    }
    return samples;
}

}  // namespace

TEST_CASE("A recording gives back what went in, before and after it was written and opened again") {
    const RecordFile file;
    const auto samples = bursts(3, 50'000);
    {
        const auto record = opened(file);
        for (std::size_t at = 0; at < samples.size(); at += 37)
            record->append(std::span(samples).subspan(at, std::min<std::size_t>(37, samples.size() - at)));
        record->mark_gap(samples.back().t_s + 0.5);
        CHECK(record->between(0.0, 1e12) == samples);
        const double from_s = samples[12'345].t_s;
        const double to_s = samples[20'000].t_s;
        CHECK(record->between(from_s, to_s) ==
              std::vector<MeterSample>(samples.begin() + 12'345, samples.begin() + 20'000));
    }
    const auto again = opened(file);
    CHECK(again->samples() == samples.size());
    CHECK(again->first_s() == samples.front().t_s);
    CHECK(again->last_s() == samples.back().t_s);
    CHECK(again->between(0.0, 1e12) == samples);
    CHECK(again->gaps(0.0, 1e12) == std::vector<double>{samples.back().t_s + 0.5});
    // It goes on where it ended, and time only goes forward.
    const std::vector<MeterSample> more{{samples.back().t_s - 1.0, 5.0, 0.1},
                                        {samples.back().t_s + 1.0, 5.0, 0.1}};
    again->append(more);
    CHECK(again->samples() == samples.size() + 1);
    CHECK(again->left_out() == 1);
}

TEST_CASE("Columns hold every sample and nothing that was not there, within one column") {
    const RecordFile file;
    const auto samples = bursts(11, 120'000);
    const auto record = opened(file);
    record->append(samples);
    Random random(5);
    for (int trial = 0; trial < 40; ++trial) {
        const double whole_s = samples.back().t_s - samples.front().t_s;
        const double from_s = samples.front().t_s + whole_s * random.uniform() - 5.0;
        const double to_s = from_s + whole_s * std::pow(10.0, -5.0 * random.uniform()) + 0.01;
        const std::size_t count = 20 + static_cast<std::size_t>(300.0 * random.uniform());
        const auto columns = record->columns(from_s, to_s, count);
        REQUIRE(columns.size() == count);
        const double width_s = (to_s - from_s) / static_cast<double>(count);
        std::vector<char> seen(count, 0);
        TraceEnvelope all;
        bool held = true;
        for (const MeterSample& sample : record->between(from_s, to_s)) {
            all.take_in(sample);
            const auto own = std::min(count - 1, static_cast<std::size_t>((sample.t_s - from_s) / width_s));
            bool found = false;
            for (std::size_t c = own == 0 ? 0 : own - 1; c <= std::min(count - 1, own + 1); ++c) {
                seen[c] = 1;
                found =
                    found || (columns[c].samples > 0 && columns[c].least_volts <= sample.volts &&
                              columns[c].most_volts >= sample.volts && columns[c].least_amps <= sample.amps &&
                              columns[c].most_amps >= sample.amps);
            }
            held = held && found;
        }
        CHECK(held);
        bool invented = false;
        for (std::size_t c = 1; c + 1 < count; ++c)
            invented = invented || (columns[c].samples > 0 && !seen[c] && !seen[c - 1] && !seen[c + 1]);
        CHECK_FALSE(invented);
        if (all.samples == 0)
            continue;
        // Besides what a node at an edge brings in, the whole moves between what the samples move between.
        TraceEnvelope inner;
        for (std::size_t c = 1; c + 1 < count; ++c)
            inner.take_in(columns[c]);
        if (inner.samples > 0) {
            CHECK(inner.least_volts >= all.least_volts - 1e-9F);
            CHECK(inner.most_volts <= all.most_volts + 1e-9F);
        }
    }
}

TEST_CASE("A sample takes eight bytes") {
    const RecordFile file;
    std::vector<MeterSample> samples;
    for (int i = 0; i < 100'000; ++i)
        samples.push_back({1.7e9 + 0.02 * i, 20.0 + 0.001 * (i % 7), 1.0 + 0.01 * (i % 11)});
    opened(file)->append(samples);
    // The header, the first time, and the words.
    CHECK(std::filesystem::file_size(file.path) == 16 + 8 + 8 * samples.size());
}

TEST_CASE("A recording of the first format is read and written anew, gaps and all") {
    const RecordFile file;
    {
        std::ofstream old(file.path, std::ios::binary);
        const auto record = [&](double t_s, float volts, float amps) {
            old.write(reinterpret_cast<const char*>(&t_s), 8);
            old.write(reinterpret_cast<const char*>(&volts), 4);
            old.write(reinterpret_cast<const char*>(&amps), 4);
        };
        old.write("EH-TRACE 1\n\0\0\0\0\0", 16);
        record(1.7e9, 5.0F, 0.25F);
        record(1.7e9 + 0.5, NAN, NAN);
        record(1.7e9 + 60.0, 20.125F, 1.5F);
        old.write("cut", 3);
    }
    for (int i = 0; i < 2; ++i) {
        const auto record = opened(file);
        CHECK(record->between(0.0, 1e12) ==
              std::vector<MeterSample>{{1.7e9, 5.0, 0.25}, {1.7e9 + 60.0, 20.125, 1.5}});
        CHECK(record->gaps(0.0, 1e12) == std::vector<double>{1.7e9 + 0.5});
    }
    CHECK_FALSE(std::filesystem::exists(file.path.string() + ".new"));
}

TEST_CASE("On a full disk the newest of the stream stays in memory and is written once there is room") {
    const RecordFile file;
    const auto record = opened(file);
    const auto at = [](std::size_t i) {
        return MeterSample{1.7e9 + 0.001 * static_cast<double>(i), 5.0, static_cast<double>(i % 64) / 32.0};
    };
    constexpr std::size_t all = (1 << 22) + 50'000;
    {
        const test::FilesEndAt limit(64'000);
        for (std::size_t i = 0; i < all; ++i) {
            const MeterSample sample = at(i);
            record->append(std::span(&sample, 1));
        }
        CHECK_FALSE(record->flush().ok());
    }
    REQUIRE(record->flush().ok());
    const double last_s = record->last_s();
    CHECK(last_s == Approx(at(all - 1).t_s).epsilon(0).margin(1e-6));
    CHECK(record->samples() > 1 << 21);
    CHECK(record->samples() < all);
    REQUIRE(record->gaps(0.0, 1e12).size() == 1);
    // What was written before and what stayed are whole, on both sides of the gap.
    const double gap_s = record->gaps(0.0, 1e12).front();
    const auto before = record->between(0.0, gap_s + 1e-7);
    const auto after = record->between(gap_s + 1e-7, 1e12);
    REQUIRE(before.size() + after.size() == record->samples());
    bool same = true;
    for (std::size_t i = 0; i < before.size(); ++i)
        same = same && before[i].amps == at(i).amps;
    for (std::size_t i = 0; i < after.size(); ++i)
        same = same && after[after.size() - 1 - i].amps == at(all - 1 - i).amps;
    CHECK(same);
    CHECK(before.size() > 4000);
    CHECK(opened(file)->samples() == record->samples());
}

TEST_CASE("A recording that was cut in the middle of a record goes on, another kind of file is left alone") {
    const RecordFile file;
    const auto samples = bursts(7, 1000);
    opened(file)->append(samples);
    std::filesystem::resize_file(file.path, std::filesystem::file_size(file.path) - 5);
    const auto cut = opened(file);
    CHECK(cut->samples() == 999);
    cut->append(std::span(samples).last(1));
    CHECK(cut->between(0.0, 1e12) == samples);

    const RecordFile other;
    std::ofstream(other.path) << "t_s,volts,amps\n0,5,0.1\n0.02,5,0.1\n";
    const auto size = std::filesystem::file_size(other.path);
    CHECK_FALSE(TraceRecord::open(other.path).ok());
    CHECK(std::filesystem::file_size(other.path) == size);
}

TEST_CASE("Numbers that are none never enter a recording") {
    const RecordFile file;
    const auto record = opened(file);
    const std::vector<MeterSample> bad{
        {1.0, NAN, 0.1}, {2.0, 5.0, INFINITY}, {NAN, 5.0, 0.1}, {3.0, 5.0, 0.1}};
    record->append(bad);
    CHECK(record->samples() == 1);
    CHECK(record->left_out() == 3);
    CHECK(record->gaps(0.0, 10.0).empty());
}

namespace {

MeterSample eight_hours_at(std::size_t i) {
    return {(1.7e12 + static_cast<double>(i)) / 1e3, 20.0 + static_cast<double>(i % 97) / 100.0,
            1.0 + static_cast<double>(i % 89) / 1000.0};
}

}  // namespace

TEST_CASE("eight hours at 1 kHz are kept without loss, in memory that stays flat", "[slow]") {
    constexpr std::size_t count = 8ul * 3600 * 1000;
    constexpr std::size_t piece = 1000;
    const RecordFile file;
    const long before = test::resident_kilobytes();
    {
        const auto record = opened(file);
        std::vector<MeterSample> samples(piece);
        for (std::size_t i = 0; i < count; i += piece) {
            for (std::size_t k = 0; k < piece; ++k)
                samples[k] = eight_hours_at(i + k);
            record->append(samples);
        }
        REQUIRE(record->flush().ok());
        CHECK(record->samples() == count);
        CHECK(record->left_out() == 0);
        // The data are 220 MiB; what is kept of them in memory is their outline.
        CHECK(test::resident_kilobytes() - before < 24 * 1024);
    }
    const auto again = opened(file);
    CHECK(again->samples() == count);
    std::size_t at = 0;
    bool same = true;
    again->visit(0.0, 1e12, [&](std::span<const MeterSample> samples) {
        for (const MeterSample& sample : samples) {
            const MeterSample wanted = eight_hours_at(at++);
            same = same && sample == wanted;
        }
        return same;
    });
    CHECK(same);
    CHECK(at == count);
    CHECK(test::resident_kilobytes() - before < 24 * 1024);
}
