// SPDX-License-Identifier: GPL-3.0-or-later
// The board: how fast a netlist is read, a net is found, a sheet is solved, a lock-in is done, the map pans.
#include <benchmark/benchmark.h>

#include <QImage>
#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <sstream>

#include "app/screens/board/board_view.h"
#include "bench/offscreen.h"
#include "core/base/random.h"
#include "core/board/copper_sheet.h"
#include "core/board/ipc356.h"
#include "core/thermal/lock_in.h"

namespace {

using namespace eh;

constexpr int netlist_records = 50'000;
constexpr int panned_pads = 20'000;

// A netlist of so many records: nets of ten pads, parts of two, on a board of 300 by 200 mm
// (ten-thousandths of an inch).
std::string netlist(int records) {
    Random random(1);
    std::string text = "P  UNITS CUST 0\n";
    std::array<char, 128> line{};
    int x = 0;
    int y = 0;
    for (int i = 0; i < records; ++i) {
        if (i % 2 == 0) {
            x = random.below(118'000);
            y = random.below(78'000);
        }
        std::snprintf(line.data(), line.size(),
                      "327NET%05d         C%05d-%d         PA01X+%06dY+%06dX0300Y0300R000S0\n", i / 10,
                      (i / 2) % 100'000, 1 + i % 2, x + 600 * (i % 2), y);
        text += line.data();
    }
    return text + "999\n";
}

const BoardMap& large_board() {
    static const BoardMap map = [] {
        std::istringstream file(netlist(panned_pads));
        auto read = read_ipc356(file, "bench");
        return std::move(std::move(read).value().map);
    }();
    return map;
}

void read_netlist(benchmark::State& state) {
    const std::string text = netlist(netlist_records);
    std::size_t pads = 0;
    for (auto _ : state) {
        std::istringstream file(text);
        const auto read = read_ipc356(file, "bench");
        pads = read.ok() ? read->map.pads().size() : 0;
    }
    state.counters["pads"] = static_cast<double>(pads);
}
BENCHMARK(read_netlist)->Unit(benchmark::kMillisecond);

void find_net(benchmark::State& state) {
    const BoardMap& map = large_board();
    Random random(2);
    for (auto _ : state) {
        const int net = map.find_net("net0" + std::to_string(1000 + random.below(900)));
        benchmark::DoNotOptimize(map.parts_on(net));
        benchmark::DoNotOptimize(map.nets_like("net01", 20));
    }
}
BENCHMARK(find_net)->Unit(benchmark::kMillisecond);

void solve_sheet(benchmark::State& state) {
    constexpr int candidates = 64;
    const std::vector<Point> outline{{0, 0}, {100, 0}, {100, 100}, {0, 100}};
    Random random(3);
    double sum = 0.0;
    int cells = 0;
    for (auto _ : state) {
        const CopperSheet sheet(outline, 0.0, 0.5, 41'000);
        cells = sheet.cells();
        std::vector<int> asked;
        for (int c = 0; c <= candidates; ++c)
            asked.push_back(random.below(cells));
        sum += sheet.responses(asked).row(0).sum();
    }
    benchmark::DoNotOptimize(sum);
    state.counters["cells"] = cells;
}
BENCHMARK(solve_sheet)->Unit(benchmark::kMillisecond);

void lock_in(benchmark::State& state) {
    constexpr int frames = 600;
    constexpr int different = 20;
    Random random(4);
    std::vector<ThermalFrame> taken;
    for (int f = 0; f < different; ++f) {
        ThermalFrame frame{160, 120, {}, 0.1 * f, std::nullopt};
        for (int p = 0; p < 160 * 120; ++p)
            frame.celsius.push_back(static_cast<float>(25.0 + 0.05 * random.normal()));
        taken.push_back(std::move(frame));
    }
    for (auto _ : state) {
        LockIn sums(160, 120);
        for (int f = 0; f < frames; ++f)
            sums.add(taken[static_cast<std::size_t>(f % different)], 0.025 * f, 0.1 * f);
        benchmark::DoNotOptimize(sums.image());
    }
}
BENCHMARK(lock_in)->Unit(benchmark::kMillisecond);

void pan_board(benchmark::State& state) {
    bench::application();
    BoardView view;
    view.resize(900, 700);
    view.setMap(&large_board());
    view.showAll();
    QImage image(view.size(), QImage::Format_ARGB32_Premultiplied);
    // To and fro over the whole board, so that what lies beyond the window is painted anew now and then.
    constexpr double step_pixels = 12.0;
    constexpr double far_pixels = 700.0;
    double at = 0.0;
    double direction = 1.0;
    double worst_ms = 0.0;
    for (auto _ : state) {
        const auto began = std::chrono::steady_clock::now();
        view.moveBy({direction * step_pixels, 0.0});
        view.render(&image);
        const std::chrono::duration<double, std::milli> took = std::chrono::steady_clock::now() - began;
        worst_ms = std::max(worst_ms, took.count());
        at += direction * step_pixels;
        if (std::abs(at) > far_pixels)
            direction = -direction;
    }
    state.counters["worst_ms"] = worst_ms;
}
BENCHMARK(pan_board)->Unit(benchmark::kMillisecond);

}  // namespace
