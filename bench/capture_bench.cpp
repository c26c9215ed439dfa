// SPDX-License-Identifier: GPL-3.0-or-later
// Recordings read: a million samples of the meter into events, and as CSV; a dense capture of the CC line
// decoded, by the library and by the command line with its start and its answer, and the same file by
// sigrok-cli, which is also checked to find the same number of packets. The two programs are compared by
// processor time.
#include <benchmark/benchmark.h>
#include <sys/resource.h>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/base/random.h"
#include "core/trace/trace_csv.h"
#include "core/trace/trace_events.h"
#include "core/usbc/cc_capture.h"
#include "core/usbc/talk_writer.h"

namespace {

using namespace eh;
using namespace eh::pd;

// Twenty seconds of traffic without a pause, as a recorder of 2.5 million samples a second sees it: some
// 6,800 messages.
const std::filesystem::path& dense_capture() {
    static const std::filesystem::path path = [] {
        const std::vector<pd::Offer> offers{FixedSupply{5.0, 3.0}, FixedSupply{9.0, 3.0},
                                            FixedSupply{15.0, 3.0}, FixedSupply{20.0, 3.0}};
        Request request;
        request.position = 4;
        request.amps = request.most_amps = 3.0;
        TalkWriter talk;
        constexpr std::size_t messages = 6800;
        while (talk.frames().size() < messages) {
            const double next_s = 20.0 * static_cast<double>(talk.frames().size()) / messages;
            talk.wait_until(next_s);
            talk.offer(offers);
            talk.request(request, offers[3]);
            talk.say(Side::charger, ControlType::accept);
            talk.say(Side::charger, ControlType::ps_rdy);
        }
        auto file = std::filesystem::temp_directory_path() / "eager-hound-dense.vcd";
        std::ofstream out(file);
        constexpr double sample_s = 0.4e-6;
        std::vector<double> edges = edges_of(talk.frames());
        for (double& edge : edges)
            edge = sample_s * std::ceil(edge / sample_s);
        write_vcd(out, edges, talk.now_s() + 0.01);
        return file;
    }();
    return path;
}

// A quarter of an hour at 1 kHz: attaching, charging with a load that flickers, and a plug that is moved at
// times.
const std::vector<MeterSample>& million_samples() {
    static const std::vector<MeterSample> samples = [] {
        constexpr std::size_t count = 1000000;
        std::vector<MeterSample> all;
        Random random(1);
        double t_s = 0.0;
        while (all.size() < count) {
            const double since_s = std::fmod(t_s, 60.0);
            t_s += since_s > 59.0 ? 1.5 : 0.001;
            const double amps = since_s < 4.0 ? 0.02 : 1.5 + 0.3 * std::sin(since_s);
            all.push_back({t_s, (since_s < 2.0 ? 5.0 : 20.0 - 0.15 * amps) + 0.006 * random.normal(),
                           amps + 0.03 * random.normal()});
        }
        return all;
    }();
    return samples;
}

void million_samples_into_events(benchmark::State& state) {
    std::size_t events = 0;
    for (auto _ : state)
        events = read_trace(million_samples()).events.size();
    state.counters["events"] = static_cast<double>(events);
}
BENCHMARK(million_samples_into_events)->Unit(benchmark::kMillisecond)->UseRealTime();

void trace_read_from_csv(benchmark::State& state) {
    std::ostringstream written;
    write_trace_csv(written, million_samples());
    const std::string text = written.str();
    for (auto _ : state) {
        std::istringstream file(text);
        benchmark::DoNotOptimize(read_trace_csv(file, "trace"));
    }
    state.SetBytesProcessed(static_cast<std::int64_t>(text.size()) *
                            static_cast<std::int64_t>(state.iterations()));
}
BENCHMARK(trace_read_from_csv)->Unit(benchmark::kMillisecond)->UseRealTime();

void capture_decoded(benchmark::State& state) {
    int good = 0;
    for (auto _ : state) {
        const auto capture = read_capture(dense_capture());
        good = 0;
        for (const SeenFrame& seen : capture->frames)
            good += seen.frame.good() ? 1 : 0;
    }
    state.counters["packets"] = good;
    state.counters["megabytes"] = static_cast<double>(std::filesystem::file_size(dense_capture())) / 1e6;
}
BENCHMARK(capture_decoded)->Unit(benchmark::kMillisecond)->UseRealTime();

// Runs a command in a shell; the processor time that it and its children took.
double seconds_of(benchmark::State& state, const std::string& command) {
    const auto of_children = [] {
        rusage used{};
        getrusage(RUSAGE_CHILDREN, &used);
        const auto seconds = [](const timeval& time) {
            return static_cast<double>(time.tv_sec) + 1e-6 * static_cast<double>(time.tv_usec);
        };
        return seconds(used.ru_utime) + seconds(used.ru_stime);
    };
    const double before_s = of_children();
    if (std::system(command.c_str()) != 0)
        state.SkipWithError("the command failed");
    return of_children() - before_s;
}

void capture_decoded_by_command_line(benchmark::State& state) {
    const std::string command = EH_CLI " pd decode " + dense_capture().string() + " >/dev/null";
    for (auto _ : state)
        state.SetIterationTime(seconds_of(state, command));
}
BENCHMARK(capture_decoded_by_command_line)->Iterations(10)->Unit(benchmark::kMillisecond)->UseManualTime();

void capture_decoded_by_sigrok(benchmark::State& state) {
    const auto found = std::filesystem::temp_directory_path() / "eager-hound-dense.txt";
    const std::string command = "sigrok-cli -i " + dense_capture().string() +
                                " -I vcd -P usb_power_delivery:cc1=cc1 -A usb_power_delivery=header >" +
                                found.string() + " 2>/dev/null";
    for (auto _ : state)
        state.SetIterationTime(seconds_of(state, command));
    int packets = 0;
    std::ifstream lines(found);
    for (std::string line; std::getline(lines, line);)
        ++packets;
    state.counters["packets"] = packets;
    std::filesystem::remove(found);
}
BENCHMARK(capture_decoded_by_sigrok)->Iterations(1)->Unit(benchmark::kMillisecond)->UseManualTime();

}  // namespace
