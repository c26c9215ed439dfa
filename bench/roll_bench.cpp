// SPDX-License-Identifier: GPL-3.0-or-later
// The recording of the meter: how fast it is written, and how fast the roll pans over ten million samples.
#include <benchmark/benchmark.h>

#include <cmath>
#include <filesystem>

#include "app/widgets/trace_plot.h"
#include "bench/offscreen.h"
#include "core/base/random.h"
#include "core/trace/trace_record.h"

namespace {

using namespace eh;

constexpr std::size_t panned_samples = 10'000'000;
constexpr double rate_hz = 1000.0;

MeterSample sample_at(std::size_t i, Random& random) {
    const double t_s = static_cast<double>(i) / rate_hz;
    const double amps = 1.4 + 0.5 * std::sin(0.01 * t_s) + 0.04 * random.normal();
    return {1.7e9 + t_s, 20.0 - 0.15 * amps + 0.01 * random.normal(), amps};
}

const TraceRecord& long_record() {
    static const std::unique_ptr<TraceRecord> record = [] {
        const auto path = std::filesystem::temp_directory_path() / "eager-hound-roll.trace";
        std::filesystem::remove(path);
        auto made = std::move(TraceRecord::open(path)).value();
        Random random(3);
        std::vector<MeterSample> piece;
        for (std::size_t i = 0; i < panned_samples; ++i) {
            piece.push_back(sample_at(i, random));
            if (piece.size() == 1000 || i + 1 == panned_samples) {
                made->append(piece);
                piece.clear();
            }
        }
        (void)made->flush();
        return made;
    }();
    return *record;
}

// A frame: another stretch is asked for, drawn and painted. The argument is the stretch's length in seconds:
// a minute, ten minutes, and nearly the whole.
void pan_the_roll(benchmark::State& state) {
    QApplication& app = bench::application();
    const TraceRecord& record = long_record();
    const double span_s = static_cast<double>(state.range(0));
    TracePlot plot;
    plot.resize(1160, 158);
    plot.setKnown(record.first_s(), record.last_s());
    plot.setReference(record.last_s(), "%1 before now");
    plot.show();
    app.processEvents();
    const double room_s = record.last_s() - record.first_s() - span_s;
    double at = 0.0;
    for (auto _ : state) {
        at = std::fmod(at + 0.00317, 1.0);
        const double from_s = record.first_s() + at * room_s;
        plot.draw(record, from_s, from_s + span_s);
        app.processEvents();
    }
    state.counters["frames/s"] =
        benchmark::Counter(static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(pan_the_roll)->Arg(60)->Arg(300)->Arg(600)->Arg(9000)->Unit(benchmark::kMillisecond)->UseRealTime();

void write_a_recording(benchmark::State& state) {
    const auto path = std::filesystem::temp_directory_path() / "eager-hound-write.trace";
    Random random(4);
    std::vector<MeterSample> piece;
    for (std::size_t i = 0; i < 1'000'000; ++i)
        piece.push_back(sample_at(i, random));
    for (auto _ : state) {
        std::filesystem::remove(path);
        auto record = std::move(TraceRecord::open(path)).value();
        record->append(piece);
        (void)record->flush();
    }
    std::filesystem::remove(path);
    state.counters["samples/s"] =
        benchmark::Counter(1e6 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(write_a_recording)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
