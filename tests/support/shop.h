// SPDX-License-Identifier: GPL-3.0-or-later
// The shipped knowledge, loaded once for all tests of a program.
#pragma once

#include "core/machine/model/knowledge.h"
#include "core/planning/bench_costs.h"
#include "core/prediction/prediction_table.h"
#include "core/shop/shop_rates.h"

namespace eh::test {

const Knowledge& shipped_knowledge();
const BenchCosts& shipped_costs();
const Topology& topology(const std::string& id);

inline constexpr const char* chained = "usbc-two-chained";
inline constexpr const char* barrel = "barrel-id";

// A plan and a table over a shipped topology; kept for the whole program, since tables are slow to make.
PredictionTable& shared_table(const std::string& topology_id);

// The shop's charger and lead in a port.
BenchConfiguration plugged(const std::string& port, PlugSide side = PlugSide::a);
// No charger, no battery, case open.
BenchConfiguration for_ohms();

Reading meter_reading(const std::string& id, const BenchConfiguration& configuration, MeterPattern pattern,
                      double volts = 0.0, double amps = 0.0);
// With the case open.
Reading volts_reading(const std::string& id, const BenchConfiguration& configuration, const std::string& net,
                      double volts);
Reading ohms_reading(const std::string& id, const BenchConfiguration& configuration, const std::string& net,
                     double ohms);
Reading open_reading(const std::string& id, const BenchConfiguration& configuration, const std::string& net);

// What cured in these jobs.
std::vector<ConfirmedRepair> repairs_of(const std::vector<Job>& jobs);

// How much a part is suspected after these readings, on a machine of a topology.
double part_probability(const std::string& id, const std::string& block,
                        const std::vector<Reading>& readings);

}  // namespace eh::test
