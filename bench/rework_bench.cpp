// SPDX-License-Identifier: GPL-3.0-or-later
// Rework and parts: the heat plan drawn anew at a slider's move, and a large stock searched.
#include <benchmark/benchmark.h>

#include <QUndoStack>

#include "app/screens/rework/heat_plan_panel.h"
#include "app/services/shop_parts.h"
#include "bench/offscreen.h"
#include "core/base/random.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/model/knowledge.h"
#include "core/parts/preferred_values.h"
#include "core/parts/stock_search.h"

namespace {

using namespace eh;

constexpr int stocked_parts = 20'000;

Stock large_stock() {
    Random random(20);
    Stock stock;
    const auto& values = decade(Series::e24);
    for (int i = 0; i < stocked_parts; ++i) {
        StockPart part;
        part.id = "s" + std::to_string(i);
        part.kind = i % 3 == 0 ? PartKind::capacitor : PartKind::resistor;
        const double mantissa =
            values[static_cast<std::size_t>(random.below(static_cast<int>(values.size())))];
        part.value = mantissa * (i % 3 == 0 ? 1e-9 : 10.0) * std::pow(10.0, random.below(5));
        part.name = "part " + std::to_string(i);
        part.package = i % 2 == 0 ? "0402" : "0603";
        part.volts = 16.0 + 10.0 * random.below(4);
        part.place = "drawer " + std::to_string(random.below(60));
        part.count = random.below(40);
        stock.parts.push_back(std::move(part));
    }
    return stock;
}

void search_stock(benchmark::State& state) {
    const Stock stock = large_stock();
    const StockSearch search(stock);
    std::size_t found = 0;
    for (auto _ : state) {
        found = search.find("100n 25v 0402").size() + search.find("drawer 1").size() + search.find("").size();
        benchmark::DoNotOptimize(found);
    }
    state.SetLabel("three questions to 20,000 parts");
}
BENCHMARK(search_stock)->Unit(benchmark::kMillisecond);

void index_stock(benchmark::State& state) {
    const Stock stock = large_stock();
    for (auto _ : state)
        benchmark::DoNotOptimize(StockSearch(stock).find("4k7").size());
}
BENCHMARK(index_stock)->Unit(benchmark::kMillisecond);

// One move of the slider: plan, window and both plots, painted.
void redraw_heat_plan(benchmark::State& state) {
    bench::application();
    const auto book = load_rework(default_data_directory());
    if (!book) {
        state.SkipWithError(book.error().text().c_str());
        return;
    }
    QUndoStack undo;
    JobSession session;
    ShopParts parts(*book, undo);
    HeatPlanPanel panel(session, parts);
    panel.resize(1160, 660);
    panel.show();
    QApplication::processEvents();
    int celsius = 250;
    for (auto _ : state) {
        celsius = celsius >= 450 ? 250 : celsius + 1;
        panel.airSlider().setValue(celsius);
        QApplication::processEvents();
    }
}
BENCHMARK(redraw_heat_plan)->Unit(benchmark::kMillisecond);

}  // namespace
