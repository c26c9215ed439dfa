// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inference/architectures.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <iterator>

#include "core/inference/bayes.h"
#include "core/machine/model/seen_outside.h"

namespace eh {
namespace {

bool has_a_place_everywhere(const Reading& reading, const std::vector<ArchitectureCandidate>& candidates) {
    return std::all_of(candidates.begin(), candidates.end(), [&](const ArchitectureCandidate& candidate) {
        return bool(check_reading(reading, candidate.reasoner->store()->plan()));
    });
}

}  // namespace

std::vector<const Topology*> alike_from_outside(const Knowledge& knowledge, const Topology& topology) {
    if (topology.share <= 0.0)
        return {&topology};
    const auto inlets = inlets_of(knowledge, topology);
    std::vector<const Topology*> alike;
    for (const Topology& other : knowledge.topologies) {
        if (other.share > 0.0 && inlets_of(knowledge, other) == inlets)
            alike.push_back(&other);
    }
    return alike;
}

std::optional<std::vector<ArchitectureShare>> weigh_architectures(
    const std::vector<ArchitectureCandidate>& candidates, const Beforehand& beforehand,
    const std::vector<Reading>& readings, const std::function<bool()>& stop,
    const std::function<void(double)>& progress) {
    assert(!candidates.empty());
    std::vector<Reading> shared;
    std::copy_if(readings.begin(), readings.end(), std::back_inserter(shared),
                 [&](const Reading& reading) { return has_a_place_everywhere(reading, candidates); });
    double total = 0.0;
    for (const ArchitectureCandidate& candidate : candidates)
        total += candidate.topology->share;
    std::vector<ArchitectureShare> shares;
    std::vector<double> logs;
    for (std::size_t c = 0; c < candidates.size(); ++c) {
        const ArchitectureCandidate& candidate = candidates[c];
        const double met =
            total > 0.0 ? candidate.topology->share / total : 1.0 / static_cast<double>(candidates.size());
        const auto suspects = candidate.reasoner->weigh(beforehand, shared, stop, [&](double done) {
            if (progress)
                progress((static_cast<double>(c) + done) / static_cast<double>(candidates.size()));
        });
        if (!suspects)
            return std::nullopt;
        shares.push_back({candidate.topology->id, met, 0.0});
        logs.push_back(std::log(met) + suspects->ranking.log_evidence);
    }
    const auto now = posterior(logs);
    for (std::size_t c = 0; c < shares.size(); ++c)
        shares[c].now = now[c];
    return shares;
}

const ArchitectureShare* contradicting(const std::vector<ArchitectureShare>& shares,
                                       const std::string& fixed) {
    constexpr double hardly = 0.05;
    constexpr double likely = 0.5;
    const auto own = std::find_if(shares.begin(), shares.end(),
                                  [&](const ArchitectureShare& share) { return share.topology == fixed; });
    const auto leading = std::max_element(
        shares.begin(), shares.end(),
        [](const ArchitectureShare& a, const ArchitectureShare& b) { return a.now < b.now; });
    if (own == shares.end() || own->now >= hardly || leading->now < likely)
        return nullptr;
    return &*leading;
}

}  // namespace eh
