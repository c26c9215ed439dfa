// SPDX-License-Identifier: GPL-3.0-or-later
// What instruments, a push and the screen show of a model as it is configured.
#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>

#include "core/electrics/element_laws.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/simulation/machine_model.h"

namespace eh {
namespace {

constexpr double ohmmeter_volts = 0.3;
constexpr double ohmmeter_ohms = 300.0;
constexpr double ohmmeter_tolerance = 1e-7;  // volts; a milliohm shows ten times as many

}  // namespace

double MachineModel::drop_probability() const {
    // Any sound plug slips now and then when it is pushed hard.
    constexpr double sound_drop_probability = 0.02;
    double hold = 1.0 - sound_drop_probability;
    for (const AppliedEffect& applied : effects_) {
        if (applied.effect.type != EffectType::play || !effect_counts(applied))
            continue;
        const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(applied.block)];
        const bool in_line = !block.is_outside() ? block.port == plugged_port_ : plugged_port_ >= 0;
        if (in_line)
            hold *= 1.0 - applied.effect.value;
    }
    return 1.0 - hold;
}

MachineModel::Percent MachineModel::battery_percent() const {
    constexpr Percent unknown{50.0, 30.0};
    constexpr Percent as_good_as_none{2.0, 2.5};
    if (plan_->pack < 0)
        return unknown;
    const double set = param(plan_->pack, "percent");
    if (set >= 0.0)
        return {set, param(plan_->pack, "percent_width")};
    return param(plan_->pack, "empty") > 0.5 ? as_good_as_none : unknown;
}

std::vector<double> MachineModel::block_watts(const std::vector<double>& node_volts) const {
    std::vector<double> watts(plan_->blocks.size(), 0.0);
    for (std::size_t i = 0; i < plan_->elements.size(); ++i)
        watts[static_cast<std::size_t>(plan_->elements[i].block)] +=
            dissipated_watts(circuit_.elements()[i], node_volts);
    for (const AppliedEffect& applied : effects_) {
        if (applied.shunt.index >= 0)
            watts[static_cast<std::size_t>(applied.block)] +=
                dissipated_watts(circuit_.element(applied.shunt), node_volts);
    }
    return watts;
}

double MachineModel::first_shunt_watts(const std::vector<double>& node_volts) const {
    double watts = 0.0;
    for (const AppliedEffect& applied : effects_) {
        if (applied.shunt.index >= 0 && applied.of_first)
            watts += dissipated_watts(circuit_.element(applied.shunt), node_volts);
    }
    return watts;
}

double MachineModel::through_ohms(int block) const {
    const PlanBlock& plan_block = plan_->blocks[static_cast<std::size_t>(block)];
    double worst = 0.0;
    for (int i = 0; i < plan_block.element_count; ++i) {
        const auto index = static_cast<std::size_t>(plan_block.first_element + i);
        const PlanElement& element = plan_->elements[index];
        if (element.type != ElementType::resistor || element.when != ElementCondition::always ||
            element.from <= 0 || element.to <= 0)
            continue;
        const double ohms = resolve(element.values[value_ohms]) * factors_[index] + added_ohms_[index];
        worst = std::max(worst, opened_[index] != 0 ? std::numeric_limits<double>::infinity() : ohms);
    }
    return worst + error_of(plan_->multimeter).lead_ohms;
}

double MachineModel::diode_drop(int net, DcSolver& solver) const {
    assert(net >= 0 && net < static_cast<int>(plan_->net_nodes.size()));
    constexpr double test_amps = 1e-3;
    constexpr double open_volts = 2.5;
    constexpr double highest_volts = 2.0;
    const NodeId node{plan_->net_nodes[static_cast<std::size_t>(net)]};
    Circuit circuit = circuit_;
    circuit.get<CurrentSource>(ohmmeter_current_) = {node, ground, test_amps};
    circuit.get<Resistor>(ohmmeter_inside_) = {node, ground, open_volts / test_amps};
    for (std::size_t b = 0; b < plan_->blocks.size(); ++b) {
        const PlanBlock& block = plan_->blocks[b];
        for (const auto& [pin, volts] : block.kind->clamp_volts) {
            const auto at = block.pin_nodes.find(pin);
            if (!conditions_[b].present || at == block.pin_nodes.end() || at->second <= 0)
                continue;
            constexpr double emission = 1.5;
            const double saturation_amps = test_amps / std::exp(volts / (emission * laws::thermal_volts));
            circuit.add("clamp." + block.id + "." + pin,
                        Diode{ground, NodeId{at->second}, saturation_amps, emission});
        }
    }
    const Solution solution = solver.solve(circuit);
    if (!solution.ok())
        return std::numeric_limits<double>::quiet_NaN();
    const InstrumentError error = error_of(plan_->multimeter);
    const double volts = -solution.volts(node) * error.volts_factor + test_amps * error.lead_ohms;
    return volts > highest_volts || error.shows_nothing ? std::numeric_limits<double>::infinity() : volts;
}

double MachineModel::ohms_to_ground(int net, DcSolver& solver, double range_ohms) {
    assert(net >= 0 && net < static_cast<int>(plan_->net_nodes.size()));
    const NodeId node{plan_->net_nodes[static_cast<std::size_t>(net)]};
    auto& current = circuit_.get<CurrentSource>(ohmmeter_current_);
    auto& inside = circuit_.get<Resistor>(ohmmeter_inside_);
    const CurrentSource no_current = current;
    const Resistor no_inside = inside;
    current = {ground, node, ohmmeter_volts / ohmmeter_ohms};
    inside = {node, ground, ohmmeter_ohms};
    SolveOptions options;
    options.tolerance_volts = ohmmeter_tolerance;
    options.tolerance_relative = ohmmeter_tolerance;
    const Solution solution = solver.solve(circuit_, options);
    current = no_current;
    inside = no_inside;
    if (!solution.ok())
        return std::numeric_limits<double>::quiet_NaN();
    const double volts = solution.volts(node);
    const double amps = (ohmmeter_volts - volts) / ohmmeter_ohms;
    const InstrumentError error = error_of(plan_->multimeter);
    const double ohms = amps > 0.0 ? volts / amps + error.lead_ohms : std::numeric_limits<double>::infinity();
    return ohms > range_ohms || error.shows_nothing ? std::numeric_limits<double>::infinity() : ohms;
}

}  // namespace eh
