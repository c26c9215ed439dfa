// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/tried_work.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/machine/model/fault_reach.h"

namespace eh {
namespace {

constexpr double worth_trying = 0.03;  // suspicion of what the work puts right
constexpr double most_minutes = 45.0;
constexpr double at_once_minutes = 10.0;
constexpr double most_minutes_for_a_success =
    20.0;  // of work that is done at once, failures included (estimate)

bool is_tried(Work work) {
    constexpr std::array tried{Work::reset, Work::reseat, Work::clean, Work::change_setting, Work::wait};
    return std::find(tried.begin(), tried.end(), work) != tried.end();
}

// Calls take(fault, spec, probability) for each fault of each suspicion that is still in the machine.
template <typename Take>
void over_faults_left(const PredictionTable& table, const Ranking& ranking, const BenchConfiguration& now,
                      Take take) {
    const FaultCatalogue& catalogue = table.plan().knowledge().catalogue;
    for (const Suspicion& suspicion : ranking.suspicions) {
        for (const FaultInstance& fault : table.hypotheses()[suspicion.hypothesis].faults) {
            const FaultSpec& spec = *catalogue.find(fault.fault);
            if (still_there(fault.block, spec, now) && !spec.remedies.empty())
                take(fault, spec, suspicion.probability);
        }
    }
}

}  // namespace

double hang_probability(const PredictionTable& table, const Ranking& ranking, const BenchConfiguration& now) {
    double hangs = 0.0;
    over_faults_left(table, ranking, now,
                     [&](const FaultInstance&, const FaultSpec& spec, double probability) {
                         hangs += spec.until_power_cut ? probability : 0.0;
                     });
    return hangs;
}

bool may_hang(const PredictionTable& table, const Ranking& ranking, const BenchConfiguration& now) {
    return hang_probability(table, ranking, now) >= worth_trying;
}

std::optional<Handling> due_cheap_work(const PredictionTable& table, const Ranking& ranking,
                                       const BenchConfiguration& now, const std::string& block) {
    struct Chance {
        double probability = 0.0;
        double minutes = 0.0;
        [[nodiscard]] double minutes_for_a_success() const { return minutes / probability; }
    };
    std::map<Work, Chance> tried;
    over_faults_left(table, ranking, now,
                     [&](const FaultInstance& fault, const FaultSpec& spec, double probability) {
                         const Remedy& remedy = spec.remedies.front();
                         if (fault.block != block || !is_tried(remedy.act) || spec.until_power_cut ||
                             remedy.minutes > at_once_minutes || !(probability > 0.0))
                             return;
                         Chance& chance = tried[remedy.act];
                         chance.probability += probability;
                         chance.minutes = std::max(chance.minutes, remedy.minutes);
                     });
    const auto best = std::min_element(tried.begin(), tried.end(), [](const auto& a, const auto& b) {
        return a.second.minutes_for_a_success() < b.second.minutes_for_a_success();
    });
    if (best == tried.end() || best->second.minutes_for_a_success() > most_minutes_for_a_success)
        return std::nullopt;
    return Handling{block, best->first};
}

std::vector<BenchConfiguration> tried_work(const PredictionTable& table, const Ranking& ranking,
                                           const BenchConfiguration& now) {
    const MachinePlan& plan = table.plan();
    std::map<Handling, double> suspected;
    over_faults_left(table, ranking, now,
                     [&](const FaultInstance& fault, const FaultSpec& spec, double probability) {
                         const Remedy& remedy = spec.remedies.front();
                         if (is_tried(remedy.act) && !spec.until_power_cut && remedy.minutes <= most_minutes)
                             suspected[{fault.block, remedy.act}] += probability;
                     });
    const BenchConfiguration plugged = plugged_into(plan.topology(), now);
    std::vector<BenchConfiguration> list;
    if (!plugged.power_was_cut && may_hang(table, ranking, now)) {
        list.push_back(plugged);
        list.back().power_was_cut = true;
    }
    for (const auto& [work, probability] : suspected) {
        if (probability < worth_trying)
            continue;
        const PlanBlock& block = plan.blocks[static_cast<std::size_t>(plan.find_block(work.block))];
        list.push_back(plugged);
        note_work(list.back(), work.block, work.work);
        if (!needs_no_opening(work.work) && !block.is_outside() && !block.kind->seen_from_outside)
            list.back().case_open = true;
    }
    return list;
}

}  // namespace eh
