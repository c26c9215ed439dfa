// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/shop.h"

#include "core/inference/ranking.h"

#include <catch2/catch.hpp>
#include <map>
#include <memory>

#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"
#include "tests/support/kept_predictions.h"

namespace eh::test {

const Knowledge& shipped_knowledge() {
    static const Knowledge knowledge = [] {
        auto loaded = load_knowledge(default_data_directory());
        if (!loaded)
            FAIL(loaded.error().text());
        for (const Error& error : loaded->refused_files)
            FAIL(error.text());
        return std::move(loaded).value();
    }();
    return knowledge;
}

const BenchCosts& shipped_costs() {
    static const BenchCosts costs = [] {
        const auto loaded = load_costs(default_data_directory());
        if (!loaded)
            FAIL(loaded.error().text());
        return *loaded;
    }();
    return costs;
}

const Topology& topology(const std::string& id) {
    const Topology* found = shipped_knowledge().find_topology(id);
    if (found == nullptr)
        FAIL("no topology " << id);
    return *found;
}

PredictionTable& shared_table(const std::string& topology_id) {
    // What it simulated stays for the next test process.
    struct Kept {
        explicit Kept(const Topology& t)
            : plan(shipped_knowledge(), t), table(plan, make_hypotheses(plan, {})) {
            take_predictions(*table.store());
        }
        ~Kept() { leave_predictions(*table.store()); }
        Kept(const Kept&) = delete;
        Kept& operator=(const Kept&) = delete;
        FittedPlan plan;
        PredictionTable table;
    };
    (void)shipped_knowledge();  // outlives the tables
    static std::map<std::string, std::unique_ptr<Kept>> all;
    auto& kept = all[topology_id];
    if (kept == nullptr)
        kept = std::make_unique<Kept>(topology(topology_id));
    return kept->table;
}

BenchConfiguration plugged(const std::string& port, PlugSide side) {
    BenchConfiguration configuration;
    configuration.port = port;
    configuration.side = side;
    return configuration;
}

BenchConfiguration for_ohms() {
    BenchConfiguration configuration = unpowered({});
    configuration.case_open = true;
    return configuration;
}

Reading meter_reading(const std::string& id, const BenchConfiguration& configuration, MeterPattern pattern,
                      double volts, double amps) {
    Reading reading;
    reading.id = id;
    reading.configuration = configuration;
    reading.value = MeterReading{{pattern, volts, 0.0, amps, 0.0, 0.0, 0.0}, true};
    return reading;
}

Reading volts_reading(const std::string& id, const BenchConfiguration& configuration, const std::string& net,
                      double volts) {
    Reading reading;
    reading.id = id;
    reading.configuration = configuration;
    reading.configuration.case_open = true;
    reading.value = NetVoltsReading{net, volts, std::nullopt};
    return reading;
}

Reading ohms_reading(const std::string& id, const BenchConfiguration& configuration, const std::string& net,
                     double ohms) {
    Reading reading;
    reading.id = id;
    reading.configuration = configuration;
    reading.value = NetOhmsReading{net, ohms};
    return reading;
}

Reading open_reading(const std::string& id, const BenchConfiguration& configuration, const std::string& net) {
    Reading reading = ohms_reading(id, configuration, net, 0.0);
    reading.value = NetOhmsReading{net, std::nullopt};
    return reading;
}

std::vector<ConfirmedRepair> repairs_of(const std::vector<Job>& jobs) {
    std::vector<ConfirmedRepair> repairs;
    for (const Job& job : jobs) {
        if (const auto repair = confirmed_repair(job))
            repairs.push_back(*repair);
    }
    return repairs;
}

double part_probability(const std::string& id, const std::string& block,
                        const std::vector<Reading>& readings) {
    PredictionTable& table = shared_table(id);
    for (const PartSuspicion& part : rank(table, priors_of(table.hypotheses()), readings).parts) {
        if (part.block == block)
            return part.probability;
    }
    return 0.0;
}

}  // namespace eh::test
