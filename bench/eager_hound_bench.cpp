// SPDX-License-Identifier: GPL-3.0-or-later
// Speed and memory (docs/speed.md holds the latest figures and the machine they were taken on).
#include <benchmark/benchmark.h>

#include <QProcess>
#include <QProcessEnvironment>
#include <nlohmann/json.hpp>

#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/planning/next_act.h"
#include "core/prediction/prediction_archive.h"
#include "core/prediction/prediction_cache.h"

namespace {

using namespace eh;

const Knowledge& knowledge() {
    static const Knowledge loaded = load_knowledge(default_data_directory()).value();
    return loaded;
}

// A job in the middle: five readings on the chained topology, with every column that reasoning needs.
struct MidJob {
    FittedPlan plan{knowledge(), *knowledge().find_topology("usbc-two-chained")};
    PredictionTable table{plan, make_hypotheses(plan, {})};
    std::vector<double> priors = priors_of(table.hypotheses());
    BenchCosts costs = *load_costs(default_data_directory());
    BenchConfiguration bench;
    std::vector<Reading> readings;

    MidJob() {
        bench.port = "p1";
        Reading reading;
        reading.id = "r1";
        reading.configuration = bench;
        reading.value = MeterReading{{MeterPattern::steady, 5.0, 0.01, 0.18, 0.01, 0.18, 0.0}, true};
        readings.push_back(reading);
        reading.id = "r2";
        reading.configuration.port = "p2";
        readings.push_back(reading);
        for (const char* net : {"vbus1", "vbus2", "pd3v3"}) {
            Reading ohms;
            ohms.id = net;
            ohms.configuration = unpowered(bench);
            const bool shorted = std::string(net) == "pd3v3";
            ohms.value = NetOhmsReading{net, shorted ? std::optional(6.2) : std::nullopt};
            readings.push_back(ohms);
        }
        prepare(table, readings);
        prepare_candidates(table, rank(table, priors, {}), {}, bench);
    }
};

MidJob& mid_job() {
    static MidJob job;
    return job;
}

void ranking_after_a_reading(benchmark::State& state) {
    MidJob& job = mid_job();
    for (auto _ : state)
        benchmark::DoNotOptimize(rank(job.table, job.priors, job.readings));
}
BENCHMARK(ranking_after_a_reading)->Unit(benchmark::kMillisecond);

void next_acts_in_the_middle(benchmark::State& state) {
    MidJob& job = mid_job();
    const Ranking ranking = rank(job.table, job.priors, job.readings);
    for (auto _ : state)
        benchmark::DoNotOptimize(next_acts(job.table, ranking, job.readings, job.bench, job.costs));
}
BENCHMARK(next_acts_in_the_middle)->Unit(benchmark::kMillisecond);

void next_acts_at_the_start(benchmark::State& state) {
    MidJob& job = mid_job();
    const Ranking ranking = rank(job.table, job.priors, {});
    for (auto _ : state)
        benchmark::DoNotOptimize(next_acts(job.table, ranking, {}, job.bench, job.costs));
}
BENCHMARK(next_acts_at_the_start)->Unit(benchmark::kMillisecond);

void predictions_of_one_configuration(benchmark::State& state) {
    const FittedPlan plan(knowledge(), *knowledge().find_topology("usbc-two-chained"));
    for (auto _ : state) {
        PredictionTable table(plan, make_hypotheses(plan, {}));
        BenchConfiguration bench;
        bench.port = "p1";
        benchmark::DoNotOptimize(table.powered(bench));
    }
}
BENCHMARK(predictions_of_one_configuration)->Unit(benchmark::kMillisecond)->UseRealTime();

// From nothing to everything that next_acts can use: all nets' ohms and every configuration within reach.
void predictions_within_reach(benchmark::State& state) {
    const FittedPlan plan(knowledge(), *knowledge().find_topology("usbc-two-chained"));
    for (auto _ : state) {
        PredictionTable table(plan, make_hypotheses(plan, {}));
        BenchConfiguration bench;
        bench.port = "p1";
        const Ranking ranking = rank(table, priors_of(table.hypotheses()), {});
        benchmark::DoNotOptimize(prepare_candidates(table, ranking, {}, bench));
    }
}
BENCHMARK(predictions_within_reach)->Unit(benchmark::kMillisecond)->UseRealTime();

// Every usual configuration of a topology from nothing: what the window does in the background.
void predictions_of_a_whole_topology(benchmark::State& state) {
    const FittedPlan plan(knowledge(), *knowledge().find_topology("usbc-two-chained"));
    std::size_t bytes = 0;
    for (auto _ : state) {
        PredictionTable table(plan, make_hypotheses(plan, {}));
        for (const BenchConfiguration& configuration : usual_configurations(plan))
            benchmark::DoNotOptimize(table.powered(configuration));
        bytes = PredictionArchive::write(*table.store()).size();
    }
    state.counters["kept_mb"] = static_cast<double>(bytes) / (1 << 20);
}
BENCHMARK(predictions_of_a_whole_topology)->Unit(benchmark::kSecond)->Iterations(1)->UseRealTime();

// What is within reach, as in predictions_within_reach, but taken from a folder on disk.
void predictions_from_disk(benchmark::State& state) {
    const FittedPlan plan(knowledge(), *knowledge().find_topology("usbc-two-chained"));
    const auto folder = std::filesystem::temp_directory_path() / "eager-hound-bench";
    const PredictionCache cache(folder, this_program());
    BenchConfiguration bench;
    bench.port = "p1";
    {
        PredictionTable table(plan, make_hypotheses(plan, {}));
        prepare_candidates(table, rank(table, priors_of(table.hypotheses()), {}), {}, bench);
        for (const BenchConfiguration& configuration : usual_configurations(plan))
            table.powered(configuration);
        (void)cache.save(*table.store());
    }
    for (auto _ : state) {
        auto store = std::make_shared<PredictionStore>(plan);
        if (!cache.load(*store))
            state.SkipWithError("nothing came from disk");
        PredictionTable table(store, make_hypotheses(plan, {}));
        for (const BenchConfiguration& configuration : reachable_configurations(bench, plan))
            benchmark::DoNotOptimize(table.known_powered(configuration));
    }
    std::filesystem::remove_all(folder);
}
BENCHMARK(predictions_from_disk)->Unit(benchmark::kMillisecond)->UseRealTime();

void course_of_a_sound_machine(benchmark::State& state) {
    const FittedPlan plan(knowledge(), *knowledge().find_topology("usbc-two-chained"));
    MachineModel model(plan, {}, {});
    DcSolver solver;
    BenchConfiguration bench;
    bench.port = "p1";
    for (auto _ : state)
        benchmark::DoNotOptimize(run_course(model, bench, solver));
}
BENCHMARK(course_of_a_sound_machine)->Unit(benchmark::kMillisecond);

// The program itself with the demo shop and its meter at 50 Hz, nobody touching it, offscreen.
void window_with_the_demo_shop(benchmark::State& state) {
    nlohmann::json measured;
    for (auto _ : state) {
        QProcess window;
        auto environment = QProcessEnvironment::systemEnvironment();
        environment.insert("QT_QPA_PLATFORM", "offscreen");
        window.setProcessEnvironment(environment);
        window.start(EH_WINDOW, {"--demo", "--measure", "60", "--job",
                                 EH_SOURCE_DATA_DIR "/../docs/examples/one-port-shorted.hound.json"});
        window.waitForFinished(120000);
        measured = nlohmann::json::parse(window.readAllStandardOutput().toStdString(), nullptr, false);
        if (measured.is_discarded()) {
            state.SkipWithError("the window printed no figures");
            break;
        }
    }
    if (!measured.is_object())
        return;
    state.counters["first_paint_ms"] = measured["first_paint_ms"].get<double>();
    state.counters["cpu_percent"] = 100.0 * measured["cpu_share"].get<double>();
    state.counters["resident_mb"] = measured["resident_mb"].get<double>();
}
BENCHMARK(window_with_the_demo_shop)->Unit(benchmark::kSecond)->Iterations(1)->UseRealTime();

}  // namespace

BENCHMARK_MAIN();
