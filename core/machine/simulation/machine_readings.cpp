// SPDX-License-Identifier: GPL-3.0-or-later
// What instruments, a push and the screen show of a model as it is configured.
#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>

#include "core/electrics/element_laws.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/plug_contacts.h"
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
        const bool in_line = !block.is_outside() ? block.port == plugged_port_ : source_port_ >= 0;
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
    for (std::size_t i = 0; i < plan_->elements.size(); ++i) {
        const auto block = static_cast<std::size_t>(plan_->elements[i].block);
        const Element& element = circuit_.elements()[i];
        const auto* stage = std::get_if<Regulator>(&element);
        const bool switches = stage != nullptr && stage->efficiency > 0.0;
        watts[block] += (switches ? plan_->blocks[block].kind->conversion_heat_share : 1.0) *
                        dissipated_watts(element, node_volts);
    }
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

double MachineModel::signal_wire_ohms() const {
    const PlanBlock& lead = plan_->blocks[static_cast<std::size_t>(lead_block_)];
    double ohms = 0.0;
    for (int i = 0; i < lead.element_count; ++i) {
        const auto index = static_cast<std::size_t>(lead.first_element + i);
        const PlanElement& element = plan_->elements[index];
        const bool of_signal =
            element.from == source_signal_node_.index || element.to == source_signal_node_.index;
        if (element.type == ElementType::resistor && of_signal)
            ohms += opened_[index] != 0 ? std::numeric_limits<double>::infinity() : added_ohms_[index];
    }
    return ohms;
}

void MachineModel::load_plug(double ohms) {
    circuit_.get<Resistor>(ohmmeter_inside_) = {meter_node_, ground, std::min(ohms, open_ohms)};
}

double MachineModel::pack_alone_volts() const {
    constexpr double asleep_anyway = 0.05;  // of packs that nothing is wrong with (estimate)
    constexpr double nominal_cell = 3.7;
    if (plan_->pack < 0)
        return std::numeric_limits<double>::quiet_NaN();
    const double asleep = std::max(condition(plan_->pack).asleep_probability, asleep_anyway);
    const InstrumentError error = error_of(plan_->multimeter);
    if (sleeps_ < asleep || error.shows_nothing)
        return 0.0;
    if (param(plan_->pack, "empty") < 0.5)
        return param(plan_->pack, "open_circuit_volts") * error.volts_factor;
    const bool deep = param(plan_->pack, "deep") > 0.5;
    const double least_cell = deep ? 0.8 : 2.4;
    const double most_cell = deep ? 2.6 : 3.2;
    const double share = (least_cell + pack_charge_ * (most_cell - least_cell)) / nominal_cell;
    return nominal_pack_volts_ * share * error.volts_factor;
}

// With a bare plug in: the contact of the plug that leads to the net.
NodeId MachineModel::probed_node(int net) const {
    const int node = plan_->net_nodes[static_cast<std::size_t>(net)];
    if (touched_port_ < 0 || source_port_ >= 0)
        return {node};
    std::vector<std::pair<int, int>> reached;  // nodes behind a contact of the plug, and that contact
    for (const PlugContact& contact : plug_contacts(*plan_, touched_port_, configuration_.side))
        reached.emplace_back(contact.board_node, contact.plug_node);
    // What carries them on: a harness, a flex.
    constexpr double wire_ohms = 1.0;
    for (std::size_t r = 0; r < reached.size(); ++r) {
        const auto [at, contact] = reached[r];
        if (at == node)
            return {contact};
        for (const PlanElement& element : plan_->elements) {
            const bool wire = element.type == ElementType::resistor && element.from == at && element.to > 0 &&
                              element.when == ElementCondition::always &&
                              resolve(element.values[value_ohms]) < wire_ohms;
            const bool known = std::any_of(reached.begin(), reached.end(),
                                           [&](const auto& other) { return other.first == element.to; });
            if (wire && !known)
                reached.emplace_back(element.to, contact);
        }
    }
    return {node};
}

double MachineModel::ohms_from_to(NodeId node, NodeId other, DcSolver& solver, double range_ohms) {
    auto& current = circuit_.get<CurrentSource>(ohmmeter_current_);
    auto& inside = circuit_.get<Resistor>(ohmmeter_inside_);
    const CurrentSource no_current = current;
    const Resistor no_inside = inside;
    current = {other, node, ohmmeter_volts / ohmmeter_ohms};
    inside = {node, other, ohmmeter_ohms};
    SolveOptions options;
    options.tolerance_volts = ohmmeter_tolerance;
    options.tolerance_relative = ohmmeter_tolerance;
    const Solution solution = solver.solve(circuit_, options);
    current = no_current;
    inside = no_inside;
    if (!solution.ok())
        return std::numeric_limits<double>::quiet_NaN();
    const double volts = solution.volts(node) - solution.volts(other);
    const double amps = (ohmmeter_volts - volts) / ohmmeter_ohms;
    const InstrumentError error = error_of(plan_->multimeter);
    const double ohms = amps > 0.0 ? volts / amps + error.lead_ohms : std::numeric_limits<double>::infinity();
    return ohms > range_ohms || error.shows_nothing ? std::numeric_limits<double>::infinity() : ohms;
}

double MachineModel::ohms_to_ground(int net, DcSolver& solver, double range_ohms) {
    assert(net >= 0 && net < static_cast<int>(plan_->net_nodes.size()));
    return ohms_from_to(probed_node(net), ground, solver, range_ohms);
}

double MachineModel::ohms_between(int net, int other, DcSolver& solver, double range_ohms) {
    assert(net >= 0 && other >= 0 && std::max(net, other) < static_cast<int>(plan_->net_nodes.size()));
    return ohms_from_to(probed_node(net), {plan_->net_nodes[static_cast<std::size_t>(other)]}, solver,
                        range_ohms);
}

double MachineModel::answer(const OffQuestion& question, DcSolver& solver) {
    switch (question.of) {
        case OffQuestion::Of::diode_drop:
            return diode_drop(question.first, solver);
        case OffQuestion::Of::through_part:
            return through_ohms(question.first);
        case OffQuestion::Of::between_nets:
            return ohms_between(question.first, question.second, solver);
        case OffQuestion::Of::pack_volts:
            return pack_alone_volts();
    }
    return std::numeric_limits<double>::quiet_NaN();
}

}  // namespace eh
