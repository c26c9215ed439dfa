// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/source_swap.h"

#include <algorithm>

#include "core/machine/model/fault_reach.h"
#include "core/machine/model/source_pieces.h"

namespace eh {
namespace {

constexpr double worth_a_swap = 0.6;  // suspicion from which a charger or lead is swapped first

// Of readings under power: whoever looked at a part has tried no charger, whatever was plugged in.
template <typename Holds>
bool any_counted(const std::vector<Reading>& taken, Holds holds) {
    return std::any_of(taken.begin(), taken.end(), [&](const Reading& reading) {
        return !reading.set_aside && !is_by_eye(reading.kind()) && !is_unpowered(reading.kind()) &&
               reading.configuration.charger_connected && holds(reading);
    });
}

bool is_chip(const PlanBlock& block) {
    const auto& letters = block.kind->designators;
    return !block.is_outside() && std::find(letters.begin(), letters.end(), "U") != letters.end();
}

bool shorts(const FaultSpec& fault) {
    return std::any_of(fault.effects.begin(), fault.effects.end(),
                       [](const Effect& effect) { return effect.type == EffectType::shunt; });
}

bool source_has_proven_itself(const std::vector<Reading>& taken) {
    return any_counted(taken, [](const Reading& reading) {
        const auto* shown = reading.as<MeterReading>();
        return shown != nullptr && shown->meter.volts > shown_above_default_volts;
    });
}

std::optional<BenchConfiguration> other_of_its_kind(const PlanBlock& block, const FaultSpec& fault,
                                                    const std::vector<Reading>& taken, const Kit& kit,
                                                    BenchConfiguration plug) {
    if (any_counted(taken, [&](const Reading& reading) {
            return feeds_machine(reading.configuration) && !part_in_play(block, fault, reading.configuration);
        }))
        return std::nullopt;
    const bool is_lead = block.id == lead_block_id(block.family);
    set_owner(plug, is_lead ? SourcePiece::lead : SourcePiece::charger, Owner::bench, kit, block.family);
    return plug;
}

}  // namespace

std::optional<BenchConfiguration> due_source_swap(const Party& top, const std::vector<Reading>& taken,
                                                  const BenchConfiguration& now, const MachinePlan& plan,
                                                  const BenchCosts& costs) {
    const int index = top.block.empty() ? -1 : plan.find_block(top.block);
    if (index < 0 || top.suspicion < worth_a_swap)
        return std::nullopt;
    const PlanBlock& block = plan.blocks[static_cast<std::size_t>(index)];
    const FaultSpec& fault = *plan.knowledge().catalogue.find(top.fault.fault);
    BenchConfiguration plug = plugged_into(plan.topology(), now);
    if (!block.family.empty())
        return other_of_its_kind(block, fault, taken, plan.knowledge().kit, std::move(plug));
    if (!is_chip(block) || shorts(fault) || top.suspicion < costs.repair_due_probability ||
        source_has_proven_itself(taken))
        return std::nullopt;
    for (const SourcePiece piece : {SourcePiece::charger, SourcePiece::lead}) {
        const bool tried = any_counted(taken, [&](const Reading& reading) {
            const BenchConfiguration& then = reading.configuration;
            return feeds_machine(then) &&
                   (piece == SourcePiece::charger ? then.charger : then.lead) == Owner::bench;
        });
        if (tried)
            continue;
        set_owner(plug, piece, Owner::bench, plan.knowledge().kit,
                  plan.topology().find_port(plug.port)->family);
        return plug;
    }
    return std::nullopt;
}

}  // namespace eh
