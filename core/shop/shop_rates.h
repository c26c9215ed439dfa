// SPDX-License-Identifier: GPL-3.0-or-later
// The shop's own confirmed repairs beside the shipped rates: what counts for how often a part is at fault.
//
// Shares of repairs are a Dirichlet distribution around the shipped estimates, worth as much as
// `shipped_jobs` jobs; own repairs are added to it. The mean of the result is shipped rate times factor.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/job/job.h"
#include "core/machine/model/knowledge.h"

namespace eh {

// Work of one kind on parts of one kind.
struct RepairCount {
    std::string part_kind;  // of the knowledge's kinds
    Work work = Work::none;
    double expected = 0.0;  // of so many jobs, by the shipped rates
    int done = 0;           // by the shop, confirmed
    double factor = 1.0;    // of the shipped rates
};

struct ShopRates {
    int jobs = 0;                      // confirmed repairs
    std::vector<RepairCount> repairs;  // all kinds that occur, most expected first
    // By id of the fault.
    [[nodiscard]] std::map<std::string, double> factors(const FaultCatalogue& catalogue) const;
};

// Work that cured a machine.
struct ConfirmedRepair {
    std::string topology;
    std::string block;
    Work work = Work::none;
    int count = 1;
    friend bool operator==(const ConfirmedRepair&, const ConfirmedRepair&) = default;
};

// The last work on a part of the machine, when every step of the proof passed or was waived; else nullopt.
// Taking a part off is no cure.
std::optional<ConfirmedRepair> confirmed_repair(const Job& job);

// Repairs of unknown topologies do not count.
ShopRates count_repairs(const Knowledge& knowledge, const std::vector<ConfirmedRepair>& repairs,
                        double shipped_jobs = 100.0);

}  // namespace eh
