// SPDX-License-Identifier: GPL-3.0-or-later
// The operating point of a whole machine, one part changed and solved again: ours against ngspice's alter and
// op on the same netlist, in one run.
#include <benchmark/benchmark.h>

#include <chrono>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/course.h"
#include "core/machine/simulation/known_ohms.h"

namespace {

using namespace eh;

// A sound two-port machine that charges, and a resistor of it to change.
struct ChargingMachine {
    Knowledge knowledge = load_knowledge(default_data_directory()).value();
    FittedPlan plan{knowledge, *knowledge.find_topology("usbc-two-chained")};
    MachineModel model{plan, {}, {}};
    DcSolver solver;
    std::vector<double> volts;
    ElementId part;
    double ohms = 0.0;

    ChargingMachine() {
        BenchConfiguration bench;
        bench.port = "p1";
        volts = run_course(model, bench, solver).phases.back().node_volts;
        const Circuit& circuit = model.circuit();
        for (int i = 0; i < circuit.element_count(); ++i) {
            // The input sense resistor: everything that is charged flows through it.
            if (circuit.element_name({i}) == "rs.body")
                part = {i};
        }
        ohms = model.circuit().get<Resistor>(part).ohms;
    }
};

ChargingMachine& machine() {
    static ChargingMachine one;
    return one;
}

constexpr double changed = 1.3;

void part_changed_and_solved_again(benchmark::State& state) {
    ChargingMachine& m = machine();
    bool other = false;
    for (auto _ : state) {
        other = !other;
        m.model.circuit().get<Resistor>(m.part).ohms = m.ohms * (other ? changed : 1.0);
        const Solution solution = m.solver.solve(m.model.circuit(), {}, &m.volts);
        if (!solution.ok())
            state.SkipWithError("no operating point");
        benchmark::DoNotOptimize(solution);
    }
}
BENCHMARK(part_changed_and_solved_again)->Unit(benchmark::kMicrosecond);

// Seconds that a whole run of ngspice takes with so many changes, its start included.
double ngspice_seconds(int changes) {
    ChargingMachine& m = machine();
    std::string netlist = to_spice(m.model.circuit(), "a machine that charges");
    std::ostringstream hints;
    for (int n = 1; n < m.model.circuit().node_count(); ++n)
        hints << ".nodeset V(n" << n << ")=" << m.volts[static_cast<std::size_t>(n)] << "\n";
    netlist.insert(netlist.find(".control"), hints.str());
    std::ostringstream commands;
    for (int i = 0; i < changes; ++i)
        commands << "alter R" << m.part.index << " = " << m.ohms * (i % 2 == 0 ? changed : 1.0) << "\nop\n";
    const std::string print = "op\nprint all\n";
    netlist.replace(netlist.find(print), print.size(), "op\n" + commands.str());
    const auto path = std::filesystem::temp_directory_path() / "eager-hound-bench.cir";
    std::ofstream(path) << netlist;
    const auto start = std::chrono::steady_clock::now();
    const int code = std::system(("ngspice -b " + path.string() + " >/dev/null 2>&1").c_str());
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    std::filesystem::remove(path);
    return code == -1 ? 0.0 : seconds;
}

void part_changed_and_solved_again_by_ngspice(benchmark::State& state) {
    constexpr int changes = 200;
    double seconds = 0.0;
    for (auto _ : state)
        seconds = ngspice_seconds(changes) - ngspice_seconds(0);
    state.counters["microseconds_each"] = seconds / changes * 1e6;
}
BENCHMARK(part_changed_and_solved_again_by_ngspice)
    ->Iterations(1)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

}  // namespace
