// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/fault_reach.h"

#include <algorithm>

namespace eh {

bool still_there(const std::string& block, const FaultSpec& fault, const BenchConfiguration& configuration) {
    const auto& replaced = configuration.replaced;
    if (std::binary_search(replaced.begin(), replaced.end(), block) != fault.refit)
        return false;
    if (fault.until_power_cut && configuration.power_was_cut)
        return false;
    return std::none_of(configuration.handled.begin(), configuration.handled.end(),
                        [&](const Handling& done) {
                            return done.block == block && !fault.remedies.empty() &&
                                   does_the_work_of(done.work, fault.remedies.front().act);
                        });
}

bool part_in_play(const PlanBlock& block, const FaultSpec& fault, const BenchConfiguration& configuration) {
    const auto listed = [&](const std::vector<std::string>& list) {
        return std::binary_search(list.begin(), list.end(), block.id);
    };
    if (listed(configuration.removed) || listed(configuration.lent) ||
        !still_there(block.id, fault, configuration))
        return false;
    if (block.is_instrument())
        return !configuration.second_instruments;
    if (block.family.empty())
        return true;
    const bool is_lead = block.id == lead_block_id(block.family);
    return (is_lead ? configuration.lead : configuration.charger) == Owner::customer;
}

bool plug_touches(ElementCondition when, const PlanBlock& block, int plugged_port, PlugSide side) {
    const bool plugged = plugged_port >= 0 && block.port == plugged_port;
    switch (when) {
        case ElementCondition::plugged:
            return plugged;
        case ElementCondition::plugged_a:
            return plugged && side == PlugSide::a;
        case ElementCondition::plugged_b:
            return plugged && side == PlugSide::b;
        case ElementCondition::always:
        case ElementCondition::live:
        case ElementCondition::active:
        case ElementCondition::unlimited:
        case ElementCondition::limited:
        case ElementCondition::waiting:
            return true;
    }
    return true;
}

namespace {

bool effect_can_show(const MachinePlan& plan, const PlanBlock& block, const Effect& effect,
                     const BenchConfiguration& configuration, bool powered) {
    const bool touches = powered ? configuration.charger_connected : configuration.bare_plug;
    const int plugged_port = touches ? plan.port_index(configuration.port) : -1;
    if (effect.at_rest && configuration.plug_held)
        return false;
    switch (effect.type) {
        case EffectType::shunt:
        case EffectType::param:
            return true;
        case EffectType::series:
        case EffectType::open:
            for (int i = 0; i < block.element_count; ++i) {
                const PlanElement& element = plan.elements[static_cast<std::size_t>(block.first_element + i)];
                if (element.name == effect.element)
                    return plug_touches(element.when, block, plugged_port, configuration.side);
            }
            return false;
        case EffectType::dead:
        case EffectType::contract_limit:
        case EffectType::holds_path_open:
        case EffectType::offers_up_to:
        case EffectType::carries_up_to:
        case EffectType::gives_up_to:
        case EffectType::never_talks:
        case EffectType::play:
        case EffectType::says:
            return powered;
        case EffectType::asleep:
            return !powered;
        case EffectType::reads:
            return powered || block.kind->role == BlockRole::multimeter;
    }
    return true;
}

}  // namespace

bool fault_can_show(const MachinePlan& plan, const FaultInstance& fault,
                    const BenchConfiguration& configuration, bool powered) {
    const PlanBlock& block = plan.blocks[static_cast<std::size_t>(plan.find_block(fault.block))];
    const FaultSpec* spec = plan.knowledge().catalogue.find(fault.fault);
    const bool alone = powered && configuration.charger_connected && !feeds_machine(configuration);
    const bool connected =
        block.family.empty() ? !alone || block.is_instrument() : powered && configuration.charger_connected;
    if (!connected || !part_in_play(block, *spec, configuration))
        return false;
    return std::any_of(spec->effects.begin(), spec->effects.end(), [&](const Effect& effect) {
        return effect_can_show(plan, block, effect, configuration, powered);
    });
}

std::vector<std::pair<int, int>> plug_side_nodes(const MachinePlan& plan, int port) {
    std::vector<std::pair<int, int>> pairs;
    for (const PlanElement& a : plan.elements) {
        for (const PlanElement& b : plan.elements) {
            if (a.when == ElementCondition::plugged_a && b.when == ElementCondition::plugged_b &&
                a.block == b.block && a.from == b.from &&
                plan.blocks[static_cast<std::size_t>(a.block)].port == port)
                pairs.emplace_back(a.to, b.to);
        }
    }
    // What carries both lines on, such as a flex.
    for (std::size_t p = 0; p < pairs.size(); ++p) {
        for (const PlanElement& a : plan.elements) {
            for (const PlanElement& b : plan.elements) {
                if (a.block == b.block && a.from == pairs[p].first && b.from == pairs[p].second && a.to > 0 &&
                    b.to > 0 && a.to != b.to && a.when == ElementCondition::always)
                    pairs.emplace_back(a.to, b.to);
            }
        }
    }
    return pairs;
}

bool fault_touches(const MachinePlan& plan, const FaultInstance& fault, int node) {
    const PlanBlock& block = plan.blocks[static_cast<std::size_t>(plan.find_block(fault.block))];
    const FaultSpec* spec = plan.knowledge().catalogue.find(fault.fault);
    const auto at = [&](const std::string& pin) {
        const auto found = block.pin_nodes.find(pin);
        return found != block.pin_nodes.end() && found->second == node;
    };
    return std::any_of(spec->effects.begin(), spec->effects.end(), [&](const Effect& effect) {
        if (effect.type == EffectType::shunt)
            return at(effect.pin) || at(effect.to);
        for (int i = 0; i < block.element_count && !effect.element.empty(); ++i) {
            const PlanElement& element = plan.elements[static_cast<std::size_t>(block.first_element + i)];
            if (element.name == effect.element && (element.from == node || element.to == node))
                return true;
        }
        return false;
    });
}

namespace {

// The specification of the fault that is in play at a block, or nullptr.
const FaultSpec* fault_in_play(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                               const std::string& block, const BenchConfiguration& configuration) {
    for (const FaultInstance& fault : faults) {
        const FaultSpec* spec = plan.knowledge().catalogue.find(fault.fault);
        if (fault.block == block &&
            part_in_play(plan.blocks[static_cast<std::size_t>(plan.find_block(block))], *spec, configuration))
            return spec;
    }
    return nullptr;
}

}  // namespace

LookShares look_shares(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                       const std::string& block, const BenchConfiguration& configuration) {
    const FaultSpec* fault = fault_in_play(plan, faults, block, configuration);
    const LookShares& sound = plan.knowledge().catalogue.looks_of_sound;
    if (fault == nullptr || !fault->looks)
        return sound;
    // What leaves no mark of its own looks as a sound part does.
    LookShares shares{};
    for (std::size_t i = 0; i < shares.size(); ++i)
        shares[i] = (*fault->looks)[0] * sound[i] + (i == 0 ? 0.0 : (*fault->looks)[i]);
    return shares;
}

double push_probability(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                        const std::string& block, const BenchConfiguration& configuration) {
    constexpr double sound = 0.02;
    const FaultSpec* fault = fault_in_play(plan, faults, block, configuration);
    double hold = 1.0 - sound;
    for (const Effect& effect : fault == nullptr ? std::vector<Effect>{} : fault->effects) {
        if (effect.type == EffectType::play)
            hold *= 1.0 - effect.value;
    }
    return 1.0 - hold;
}

bool draws_severity(const FaultCatalogue& catalogue, const std::vector<FaultInstance>& faults) {
    return std::any_of(faults.begin(), faults.end(), [&](const FaultInstance& fault) {
        const auto& effects = catalogue.find(fault.fault)->effects;
        return std::any_of(effects.begin(), effects.end(), [](const Effect& effect) {
            return effect.type == EffectType::shunt || effect.type == EffectType::series ||
                   effect.type == EffectType::gives_up_to;
        });
    });
}

bool finds_a_place(const MachinePlan& plan, const PlanBlock& block, const FaultSpec& fault) {
    const auto has_pin = [&](const std::string& pin) {
        const auto found = block.pin_nodes.find(pin);
        return pin == "gnd" || (found != block.pin_nodes.end() && found->second >= 0);
    };
    const auto has_element = [&](const std::string& name) {
        const auto first = plan.elements.begin() + block.first_element;
        return std::any_of(first, first + block.element_count,
                           [&](const PlanElement& element) { return element.name == name; });
    };
    bool only_drops_out = true;
    for (const Effect& effect : fault.effects) {
        switch (effect.type) {
            case EffectType::shunt:
                if (has_pin(effect.pin) && has_pin(effect.to))
                    return true;
                only_drops_out = false;
                break;
            case EffectType::series:
            case EffectType::open:
                if (has_element(effect.element))
                    return true;
                only_drops_out = false;
                break;
            case EffectType::play:
                break;
            default:
                return true;
        }
    }
    return only_drops_out;
}

}  // namespace eh
