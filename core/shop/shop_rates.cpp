// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shop/shop_rates.h"

#include <algorithm>

#include "core/machine/simulation/known_ohms.h"
#include "core/proof/proof.h"

namespace eh {
namespace {

using RepairKey = std::pair<std::string, Work>;  // kind of part, work

RepairKey key_of(const FaultSpec& fault) {
    return {fault.kind, fault.remedies.empty() ? Work::repair : fault.remedies.front().act};
}

// Shares of the repairs of one machine of this topology, by the shipped rates.
std::map<RepairKey, double> shipped_shares(const Knowledge& knowledge, const Topology& topology) {
    std::map<RepairKey, double> shares;
    double total = 0.0;
    const FittedPlan plan(knowledge, topology);
    for (const PlanBlock& block : plan.blocks) {
        for (const FaultSpec& fault : knowledge.catalogue.faults) {
            if (fault.kind != block.kind->id || fault.refit)
                continue;
            shares[key_of(fault)] += fault.rate;
            total += fault.rate;
        }
    }
    for (auto& [key, share] : shares)
        share /= total;
    return shares;
}

std::string kind_of_part(const Knowledge& knowledge, const Topology& topology, const std::string& block) {
    const FittedPlan plan(knowledge, topology);
    const int index = plan.find_block(block);
    return index < 0 ? std::string() : plan.blocks[static_cast<std::size_t>(index)].kind->id;
}

}  // namespace

std::optional<ConfirmedRepair> confirmed_repair(const Job& job) {
    const auto last = std::find_if(job.acts.rbegin(), job.acts.rend(), [](const Act& act) {
        return !act.block.empty() && act.kind != Work::remove;
    });
    if (last == job.acts.rend() || !proof_complete(job.proof))
        return std::nullopt;
    return ConfirmedRepair{job.ticket.topology, last->block, last->kind, 1};
}

ShopRates count_repairs(const Knowledge& knowledge, const std::vector<ConfirmedRepair>& repairs,
                        double shipped_jobs) {
    ShopRates rates;
    std::map<RepairKey, RepairCount> counts;
    std::map<std::string, std::map<RepairKey, double>> shares_of_topology;
    for (const ConfirmedRepair& repair : repairs) {
        const Topology* topology = knowledge.find_topology(repair.topology);
        if (topology == nullptr)
            continue;
        auto& shares = shares_of_topology[topology->id];
        if (shares.empty())
            shares = shipped_shares(knowledge, *topology);
        rates.jobs += repair.count;
        for (const auto& [key, share] : shares)
            counts[key].expected += repair.count * share;
        const auto own = counts.find({kind_of_part(knowledge, *topology, repair.block), repair.work});
        if (own != counts.end())
            own->second.done += repair.count;
    }
    for (auto& [key, count] : counts) {
        count.part_kind = key.first;
        count.work = key.second;
        const double prior = shipped_jobs * count.expected / rates.jobs;
        count.factor = (prior + count.done) / (prior + count.expected);
        rates.repairs.push_back(count);
    }
    std::stable_sort(rates.repairs.begin(), rates.repairs.end(),
                     [](const RepairCount& a, const RepairCount& b) { return a.expected > b.expected; });
    return rates;
}

std::map<std::string, double> ShopRates::factors(const FaultCatalogue& catalogue) const {
    std::map<std::string, double> by_fault;
    for (const FaultSpec& fault : catalogue.faults) {
        for (const RepairCount& count : repairs) {
            if (RepairKey{count.part_kind, count.work} == key_of(fault))
                by_fault[fault.id] = count.factor;
        }
    }
    return by_fault;
}

}  // namespace eh
