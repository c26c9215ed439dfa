// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/repair_act.h"

#include <algorithm>

namespace eh {
namespace {

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

}  // namespace eh
