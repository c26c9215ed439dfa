// SPDX-License-Identifier: GPL-3.0-or-later
// One set of nodal equations factored and solved, the pattern known: ours against KLU (SuiteSparse), which is
// made for circuits, on the same matrix in one run. Arg: unknowns; a whole machine has some fifty.
#include <benchmark/benchmark.h>
#include <suitesparse/klu.h>

#include <cmath>
#include <map>

#include "core/base/random.h"
#include "core/electrics/pattern_lu.h"

namespace {

using namespace eh;

// A network as a machine's is: a tree of parts, some more between its branches, all leaking a little.
struct Network {
    int size;
    std::map<std::pair<int, int>, double> by_column;  // (column, row)

    explicit Network(int nodes) : size(nodes) {
        Random random(7);
        const auto conduct = [&](int a, int b, double siemens) {
            by_column[{a, a}] += siemens;
            by_column[{b, b}] += siemens;
            by_column[{a, b}] -= siemens;
            by_column[{b, a}] -= siemens;
        };
        for (int n = 1; n < size; ++n)
            conduct(n, random.below(n), std::pow(10.0, 4.0 * random.uniform() - 2.0));
        for (int extra = 0; extra < size / 2; ++extra) {
            const int a = random.below(size);
            const int b = (a + 1 + random.below(size - 1)) % size;
            conduct(a, b, random.uniform());
        }
        for (int n = 0; n < size; ++n)
            by_column[{n, n}] += 1e-3;
    }
    [[nodiscard]] std::vector<double> right_side() const {
        std::vector<double> b(static_cast<std::size_t>(size), 0.0);
        b.front() = 1.0;
        return b;
    }
};

void equations_solved(benchmark::State& state) {
    const Network network(static_cast<int>(state.range(0)));
    std::vector<std::pair<int, int>> places;
    for (const auto& [place, value] : network.by_column)
        places.emplace_back(place.second, place.first);
    PatternLu lu;
    lu.study(network.size, places);
    std::vector<double> values(static_cast<std::size_t>(lu.value_count()), 0.0);
    for (const auto& [place, value] : network.by_column)
        values[static_cast<std::size_t>(lu.slot(place.second, place.first))] = value;
    std::vector<double> b;
    for (auto _ : state) {
        b = network.right_side();
        if (!lu.factor(values))
            state.SkipWithError("a pivot was lost");
        lu.solve(b);
        benchmark::DoNotOptimize(b.data());
    }
}
BENCHMARK(equations_solved)->Arg(20)->Arg(50)->Arg(100)->Arg(200)->Unit(benchmark::kMicrosecond);

void equations_solved_by_klu(benchmark::State& state) {
    const Network network(static_cast<int>(state.range(0)));
    std::vector<int> starts{0};
    std::vector<int> rows;
    std::vector<double> values;
    for (const auto& [place, value] : network.by_column) {
        while (static_cast<int>(starts.size()) <= place.first)
            starts.push_back(static_cast<int>(rows.size()));
        rows.push_back(place.second);
        values.push_back(value);
    }
    starts.push_back(static_cast<int>(rows.size()));
    klu_common common;
    klu_defaults(&common);
    klu_symbolic* symbolic = klu_analyze(network.size, starts.data(), rows.data(), &common);
    klu_numeric* numeric = klu_factor(starts.data(), rows.data(), values.data(), symbolic, &common);
    std::vector<double> b;
    for (auto _ : state) {
        b = network.right_side();
        // The same order and pivots again, as ours does.
        if (klu_refactor(starts.data(), rows.data(), values.data(), symbolic, numeric, &common) == 0 ||
            klu_solve(symbolic, numeric, network.size, 1, b.data(), &common) == 0)
            state.SkipWithError("not solved");
        benchmark::DoNotOptimize(b.data());
    }
    klu_free_numeric(&numeric, &common);
    klu_free_symbolic(&symbolic, &common);
}
BENCHMARK(equations_solved_by_klu)->Arg(20)->Arg(50)->Arg(100)->Arg(200)->Unit(benchmark::kMicrosecond);

}  // namespace
