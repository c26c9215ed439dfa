// SPDX-License-Identifier: GPL-3.0-or-later
// A shop that has grown: 100,000 jobs with 50 readings each. Making it takes some minutes, so it is kept in
// the folder for temporary files until the tables change.
#include <benchmark/benchmark.h>

#include <QTemporaryDir>
#include <cmath>
#include <cstdio>
#include <filesystem>

#include "core/base/random.h"
#include "core/machine/model/knowledge.h"
#include "store/file_store.h"
#include "store/schema.h"

namespace {

using namespace eh;
namespace fs = std::filesystem;

constexpr int jobs_of_a_large_shop = 100'000;
constexpr int readings_of_a_job = 50;
constexpr int open_jobs = 300;
constexpr int jobs_at_once = 1000;

const char* const names[] = {"Iris", "Oskar", "Mirela", "Teun", "Pia", "Jonas", "Ruben", "Ottilie"};
const char* const machines[] = {"Heron 13", "Osier 15", "Field 15", "Grey 14", "Lark 12"};
const char* const topologies[] = {"usbc-two-chained", "barrel-id"};
const char* const nets[] = {"vin", "main", "chgin", "aon3v3", "5vport", "vbat", "core"};
const char* const words[] = {"charger", "lamp",  "port", "left",  "sometimes", "liquid", "dropped",
                             "hot",     "smell", "fan",  "cable", "yesterday", "never",  "slowly"};

template <typename T, std::size_t N>
T one_of(T const (&list)[N], Random& random) {
    return list[random.below(static_cast<int>(N))];
}

Reading random_reading(int number, std::int64_t taken_ms, Random& random) {
    Reading reading;
    reading.id = "r" + std::to_string(number);
    reading.taken_ms = taken_ms + 40'000LL * number;
    reading.source = "captured";
    reading.configuration.port = random.below(2) == 0 ? "p1" : "p2";
    reading.configuration.side = random.below(2) == 0 ? PlugSide::a : PlugSide::b;
    reading.configuration.case_open = number > 6;
    if (random.below(3) == 0) {
        MeterSummary meter;
        meter.pattern = MeterPattern::steady;
        meter.volts = 20.0 * random.uniform();
        meter.amps = 3.0 * random.uniform();
        meter.volts_spread = 0.02 * random.uniform();
        meter.amps_spread = 0.05 * random.uniform();
        meter.peak_amps = 3.2 * random.uniform();
        reading.value = MeterReading{meter, true};
        return reading;
    }
    const std::string net = one_of(nets, random);
    const bool powered = random.below(2) == 0;
    reading.configuration.charger_connected = powered;
    reading.configuration.battery_in = powered;
    const double shown = std::round(1e4 * std::pow(10.0, 4.0 * random.uniform() - 1.0)) / 1e4;
    if (powered)
        reading.value = NetVoltsReading{net, shown};
    else
        reading.value = NetOhmsReading{net, shown};
    reading.source = "typed";
    return reading;
}

Job random_job(int number, Random& random) {
    constexpr std::int64_t first_day_ms = 1'500'000'000'000;
    constexpr std::int64_t between_jobs_ms = 2'400'000;
    Job job;
    job.id = JobId::made("bench-" + std::to_string(number));
    job.created_ms = first_day_ms + between_jobs_ms * number;
    job.ticket.number = "N-" + std::to_string(number);
    job.ticket.customer = std::string(one_of(names, random)) + " " + std::to_string(random.below(5000));
    job.ticket.machine = one_of(machines, random);
    job.ticket.topology = one_of(topologies, random);
    for (int i = 0; i < 12; ++i)
        job.ticket.claim += std::string(one_of(words, random)) + " ";
    for (int i = 0; i < readings_of_a_job; ++i)
        job.readings.push_back(random_reading(i + 1, job.created_ms, random));
    job.stage = number >= jobs_of_a_large_shop - open_jobs ? JobStage::bench : JobStage::closed;
    if (job.stage == JobStage::closed) {
        Act act;
        act.id = "a1";
        act.kind = Work::replace;
        act.block = random.below(2) == 0 ? "chg" : "cm";
        act.part_origin = "new";
        act.minutes = 30.0;
        job.acts = {act};
        ProofStep step;
        step.id = "p1";
        step.state = ProofState::passed;
        job.proof = {step};
        job.handover.handed_ms = job.created_ms + between_jobs_ms;
    }
    return job;
}

fs::path large_shop() {
    fs::path file =
        fs::temp_directory_path() / ("eager-hound-bench-shop-" + std::to_string(newest_schema_version) + "-" +
                                     std::to_string(jobs_of_a_large_shop) + ".sqlite");
    std::error_code problem;
    if (fs::exists(file, problem))
        return file;
    const fs::path part = file.string() + ".part";
    for (const char* tail : {"", "-wal", "-shm"})
        fs::remove(part.string() + tail, problem);
    Random random(2026);
    {
        auto store = FileStore::open_file(part);
        for (int first = 0; store && first < jobs_of_a_large_shop; first += jobs_at_once) {
            std::vector<Job> jobs;
            jobs.reserve(jobs_at_once);
            for (int i = 0; i < jobs_at_once; ++i)
                jobs.push_back(random_job(first + i, random));
            if (const auto added = (*store)->add_all(jobs); !added) {
                std::fprintf(stderr, "%s\n", added.error().text().c_str());
                return {};
            }
            std::fprintf(stderr, "\rmaking a large shop: %d of %d jobs", first + jobs_at_once,
                         jobs_of_a_large_shop);
        }
        std::fprintf(stderr, "\n");
    }
    fs::rename(part, file, problem);
    return file;
}

FileStore& shop() {
    static const auto store = FileStore::open_file(large_shop());
    return **store;
}

Job asked_job() {
    Random random(7);
    Job job = random_job(jobs_of_a_large_shop + 1, random);
    job.acts.clear();
    return job;
}

void shelf_of_a_large_shop(benchmark::State& state) {
    FileStore& store = shop();
    for (auto _ : state) {
        benchmark::DoNotOptimize(store.counts()->size());
        benchmark::DoNotOptimize(store.shelf(std::nullopt, 500)->size());
    }
    state.SetLabel("all open jobs and the counts of the shelves");
}
BENCHMARK(shelf_of_a_large_shop)->Unit(benchmark::kMillisecond);

void closed_shelf_of_a_large_shop(benchmark::State& state) {
    FileStore& store = shop();
    for (auto _ : state)
        benchmark::DoNotOptimize(store.shelf(WaitsFor::nothing, 500)->size());
}
BENCHMARK(closed_shelf_of_a_large_shop)->Unit(benchmark::kMillisecond);

void search_large_shop(benchmark::State& state, const char* question) {
    FileStore& store = shop();
    std::size_t found = 0;
    for (auto _ : state) {
        found = store.search(question, 500)->size();
        benchmark::DoNotOptimize(found);
    }
    state.counters["found"] = static_cast<double>(found);
}
BENCHMARK_CAPTURE(search_large_shop, rare, "Iris 4711")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(search_large_shop, common, "charger smell hot")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(search_large_shop, beginning, "ch")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(search_large_shop, nothing, "charger zeppelin")->Unit(benchmark::kMillisecond);

void similar_in_large_shop(benchmark::State& state) {
    FileStore& store = shop();
    const Job job = asked_job();
    for (auto _ : state)
        benchmark::DoNotOptimize(store.similar(job, 8)->size());
    state.SetLabel("50 readings against half of 100,000 jobs");
}
BENCHMARK(similar_in_large_shop)->Unit(benchmark::kMillisecond);

void open_job_of_large_shop(benchmark::State& state) {
    FileStore& store = shop();
    int number = 0;
    for (auto _ : state) {
        number = (number + 7919) % jobs_of_a_large_shop;
        benchmark::DoNotOptimize(store.load("bench-" + std::to_string(number)).ok());
    }
}
BENCHMARK(open_job_of_large_shop)->Unit(benchmark::kMillisecond);

void capture_in_large_shop(benchmark::State& state) {
    FileStore& store = shop();
    Job job = *store.load("bench-" + std::to_string(jobs_of_a_large_shop - 1));
    Random random(3);
    for (auto _ : state) {
        // The same reading with another value each time, so that the shop does not grow.
        job.readings.back().value = NetVoltsReading{"vbus1", random.uniform()};
        benchmark::DoNotOptimize(store.save(job).ok());
    }
}
BENCHMARK(capture_in_large_shop)->Unit(benchmark::kMillisecond);

void start_with_large_shop(benchmark::State& state) {
    const fs::path file = shop().file();
    for (auto _ : state)
        benchmark::DoNotOptimize(FileStore::open_file(file).ok());
}
BENCHMARK(start_with_large_shop)->Unit(benchmark::kMillisecond);

void count_repairs_of_large_shop(benchmark::State& state) {
    FileStore& store = shop();
    for (auto _ : state)
        benchmark::DoNotOptimize(store.repairs()->size());
}
BENCHMARK(count_repairs_of_large_shop)->Unit(benchmark::kMillisecond);

// How much a shop file grows by a reading: the same jobs with and without them.
void bytes_of_a_reading(benchmark::State& state) {
    constexpr int jobs = 1000;
    double bytes = 0.0;
    for (auto _ : state) {
        const QTemporaryDir folder;
        double sizes[2] = {};
        for (const bool with_readings : {false, true}) {
            const fs::path file =
                fs::path(folder.path().toStdString()) / (with_readings ? "with.sqlite" : "without.sqlite");
            Random random(5);
            std::vector<Job> all;
            for (int i = 0; i < jobs; ++i) {
                all.push_back(random_job(i, random));
                if (!with_readings)
                    all.back().readings.clear();
            }
            {
                auto store = FileStore::open_file(file);
                (void)(*store)->add_all(all);
            }
            sizes[with_readings ? 1 : 0] = static_cast<double>(fs::file_size(file));
        }
        bytes = (sizes[1] - sizes[0]) / (jobs * readings_of_a_job);
    }
    state.counters["bytes"] = bytes;
}
BENCHMARK(bytes_of_a_reading)->Unit(benchmark::kMillisecond)->Iterations(1);

}  // namespace
