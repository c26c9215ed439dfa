// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/repair_act.h"

#include <algorithm>
#include <cmath>

namespace eh {
namespace {

constexpr double certain_probability = 0.985;     // from here on nobody measures on
constexpr double repaired_at_sight = 0.8;         // suspicion from which a part that is seen broken is
constexpr double worth_the_effort_minutes = 0.5;  // savings below this leave a due repair due
constexpr double worth_learning_bits = 0.05;      // below it no reading is left that changes the choice

// Whether parts are taken off for a reading that costs about as much as the repair, which tells as well.
bool is_as_dear_as(const NextAct& act, const Party& suspect, const BenchConfiguration& now) {
    constexpr double long_minutes = 15.0;  // less is no question: lift and measure
    constexpr double dear_share = 0.5;     // of the repair, which mostly needs the same part off
    return act.configuration.removed != now.removed && !act.configuration.removed.empty() &&
           act.minutes > long_minutes && act.minutes > dear_share * suspect.repair_minutes;
}

bool is_repaired_at_sight(const Party& suspect, bool seen_broken) {
    return seen_broken && suspect.suspicion >= repaired_at_sight;
}

void prefer_reflow(const FaultSpec& spec, const MachinePlan& plan, const NextOptions& options, NextAct& act) {
    const auto& done = options.reflowed;
    if (!options.reflow_first || std::find(done.begin(), done.end(), act.fault.block) != done.end())
        return;
    const PlanBlock& block = plan.blocks[static_cast<std::size_t>(plan.find_block(act.fault.block))];
    for (const Remedy& remedy : spec.remedies) {
        if (remedy.act != Work::reflow)
            continue;
        act.minutes += remedy.minutes - block.kind->replace_minutes;
        act.remedy = remedy.act;
        act.cures = remedy.cures;
    }
}

}  // namespace

NextAct repair_act(const Party& suspect, const Ranking& ranking, const PredictionTable& table,
                   const BenchConfiguration& now, const NextOptions& options) {
    const MachinePlan& plan = table.plan();
    NextAct act;
    act.repair = true;
    act.fault = fault_to_remedy(ranking, table, suspect.block, suspect.work, now);
    act.configuration = now;
    const FaultSpec* spec = plan.knowledge().catalogue.find(act.fault.fault);
    act.remedy = spec == nullptr || spec->remedies.empty() ? Work::repair : spec->remedies.front().act;
    act.minutes = suspect.repair_minutes;
    if (spec != nullptr)
        prefer_reflow(*spec, plan, options, act);
    return act;
}

const Party& up_for_repair(const Parties& parties,
                           const std::function<bool(const std::string&)>& seen_broken) {
    const auto at_sight = std::find_if(parties.list.begin(), parties.list.end(), [&](const Party& party) {
        return party.kind == HypothesisKind::fault && std::isfinite(party.repair_minutes) &&
               is_repaired_at_sight(party, seen_broken(party.block));
    });
    return at_sight == parties.list.end() ? parties.list.front() : *at_sight;
}

std::optional<DueBecause> why_due(const Party& suspect, const MachinePlan& plan,
                                  const BenchConfiguration& now, bool seen_broken, bool any_taken,
                                  const std::vector<NextAct>& acts, const BenchCosts& costs) {
    if (is_repaired_at_sight(suspect, seen_broken))
        return DueBecause::seen_broken;
    if (suspect.suspicion >= certain_probability)
        return DueBecause::certain;
    const bool none_saves = std::none_of(acts.begin(), acts.end(), [](const NextAct& act) {
        return act.saving_minutes > worth_the_effort_minutes;
    });
    if (!none_saves)
        return std::nullopt;
    const int block = plan.find_block(suspect.block);
    const bool plugged = block >= 0 && plan.blocks[static_cast<std::size_t>(block)].kind->lend_minutes;
    const double likely_enough = plugged && any_taken && now.case_open ? costs.plugged_repair_due_probability
                                                                       : costs.repair_due_probability;
    if (suspect.suspicion >= likely_enough)
        return DueBecause::nothing_saves;
    const bool none_tells = std::all_of(acts.begin(), acts.end(), [&](const NextAct& act) {
        return act.bits < worth_learning_bits || is_as_dear_as(act, suspect, now);
    });
    return none_tells && any_taken ? std::optional(DueBecause::nothing_left) : std::nullopt;
}

}  // namespace eh
