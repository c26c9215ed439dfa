// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/simulation/machine_model.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "core/base/random.h"
#include "core/machine/model/fault_reach.h"
#include "core/machine/model/net_index.h"

namespace eh {
namespace {

constexpr double leakage_ohms = 5e7;    // of a clean board, every node to ground
constexpr double leakage_spread = 1.0;  // one sigma of its logarithm: no two boards are alike
// Volts are read with a voltmeter of 10 MΩ (common practice), which decides where else only leakage would.
constexpr double voltmeter_ohms = 1e7;
constexpr double supply_ohms = 0.03;  // of the bench supply and its leads, sensed at the net
// A diode that is not there: a small current alone would still let it through at a volt or so.
constexpr double off_saturation_amps = 1e-21;
constexpr double off_emission = 1e6;
// Of an Rd that needs power: 40 kilohms to open (common practice), by the meter's test volts.
constexpr double faint_ohms = 3e5;
constexpr double faint_spread = 1.2;  // one sigma of its logarithm
// What leaks past a part that is open: flux, damp, what is joined to both its ends inside a chip (estimate).
constexpr double broken_ohms = 1e8;
constexpr double broken_spread = 2.0;  // one sigma of its logarithm
// Of the nominal 3.7 V a cell: 3.2 to 4.3 V (common practice) of a pack that is neither full nor asleep.
constexpr double least_cell_share = 0.87;
constexpr double most_cell_share = 1.16;
constexpr double fullest_share = 0.96;    // of what the charger makes, in a pack that is still charged
constexpr double above_pack_volts = 0.2;  // of a rail that follows its pack (common practice: 0.1 to 0.3 V)
constexpr double limited_below_volts = 9.0;

}  // namespace

MachineModel::MachineModel(const MachinePlan& plan, const std::vector<FaultInstance>& faults,
                           const PartDraw& draw)
    : plan_(&plan), circuit_(plan.node_names), drawn_slots_(plan.slot_values) {
    leakage_ohms_.resize(plan.node_names.size() - 1);
    draw_values(draw);
    slots_ = drawn_slots_;
    active_.assign(plan.blocks.size(), 0);
    conditions_.assign(plan.blocks.size(), {});
    added_ohms_.assign(plan.elements.size(), 0.0);
    opened_.assign(plan.elements.size(), 0);
    for (std::size_t i = 0; i < plan.elements.size(); ++i) {
        const PlanElement& element = plan.elements[i];
        circuit_.add(plan.blocks[static_cast<std::size_t>(element.block)].id + "." + element.name,
                     make_element(element, false, 0.0, factors_[i]));
    }
    for (int n = 1; n < circuit_.node_count(); ++n)
        leakages_.push_back(
            circuit_.add("leakage." + circuit_.node_name({n}),
                         Resistor{{n}, ground, leakage_ohms_[static_cast<std::size_t>(n - 1)]}));
    // Test volts behind a resistance, as a current and its shunt: linear, so that megohms are exact.
    ohmmeter_current_ = circuit_.add("ohmmeter", CurrentSource{ground, {1}, 0.0});
    ohmmeter_inside_ = circuit_.add("ohmmeter.inside", Resistor{{1}, ground, open_ohms});
    supply_element_ = circuit_.add("supply", LimitedSource{{1}, ground, 0.0, supply_ohms, 1.0, 1.0});
    circuit_.share_names();
    add_effects(faults, draw);
}

MachineModel::MachineModel(const MachineModel& sound, const std::vector<FaultInstance>& faults,
                           const PartDraw& draw)
    : MachineModel(sound) {
    assert(effects_.empty());
    add_effects(faults, draw);
}

void MachineModel::draw_values(const PartDraw& draw) {
    // A stream of its own, so that the same seed gives the same sound parts whatever the faults are.
    Random random(draw.seed * 2 + 1);
    if (!draw.typical)
        glance_quantile_ = Random(~draw.seed).uniform();
    factors_.reserve(plan_->elements.size());
    for (const PlanElement& element : plan_->elements) {
        const double deviate = draw.typical ? 0.0 : random.normal();
        factors_.push_back(std::exp(element.tolerance * draw.tolerance_factor * deviate));
    }
    for (std::size_t i = 0; i < drawn_slots_.size(); ++i) {
        const double deviate = draw.typical ? 0.0 : random.normal();
        drawn_slots_[i] *= std::exp(plan_->slot_tolerances[i] * draw.tolerance_factor * deviate);
    }
    if (!draw.typical) {
        other_protection_ = draw.protection;
        constexpr double recover_spread = 0.3;
        recover_factor_ = std::exp(recover_spread * draw.tolerance_factor * random.normal());
    }
    if (plan_->pack >= 0) {
        const PlanBlock& pack = plan_->blocks[static_cast<std::size_t>(plan_->pack)];
        nominal_pack_volts_ =
            drawn_slots_[static_cast<std::size_t>(pack.param_slots.at("open_circuit_volts"))];
    }
    if (plan_->pack >= 0 && !draw.typical) {
        const PlanBlock& pack = plan_->blocks[static_cast<std::size_t>(plan_->pack)];
        const double chance = random.uniform();
        const bool empty = draw.pack_empty.value_or(chance < empty_pack_share);
        drawn_slots_[static_cast<std::size_t>(pack.param_slots.at("empty"))] = empty ? 1.0 : 0.0;
        const double drawn_charge = random.uniform();
        const double charge = draw.pack_charge.value_or(drawn_charge);
        pack_charge_ = charge;
        double& volts = drawn_slots_[static_cast<std::size_t>(pack.param_slots.at("open_circuit_volts"))];
        volts *= least_cell_share + charge * (most_cell_share - least_cell_share);
        // No charger fills a pack beyond what it makes itself.
        for (const int charger : plan_->chargers) {
            const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(charger)];
            volts = std::min(
                volts, fullest_share * drawn_slots_[static_cast<std::size_t>(block.param_slots.at("volts"))]);
        }
    }
    for (double& ohms : leakage_ohms_)
        ohms = draw.typical ? leakage_ohms : leakage_ohms * std::exp(leakage_spread * random.normal());
    for (std::size_t h = 0; h < habit_count; ++h) {
        // The typical machine does what most do.
        const double chance = draw.typical ? 0.5 : random.uniform();
        const bool drawn = chance < plan_->knowledge().variety.habit_shares[h];
        habits_[h] = (draw.habits ? (*draw.habits)[h] : drawn) && !plan_->impossible_habits[h];
    }
    const auto& implied = plan_->knowledge().variety.implied;
    for (std::size_t h = 0; h < habit_count; ++h) {
        if (habits_[h] && implied[h])
            habits_[static_cast<std::size_t>(*implied[h])] = true;
    }
    // ... but its volts are those that its topology names.
    if (draw.typical && !draw.habits)
        habits_[static_cast<std::size_t>(Habit::rail_follows_pack)] = false;
    broken_ohms_ = draw.typical ? open_ohms : broken_ohms * std::exp(broken_spread * random.normal());
    faint_ohms_ = draw.typical ? faint_ohms : faint_ohms * std::exp(faint_spread * random.normal());
    if (!draw.typical)
        sleeps_ = random.uniform();
}

MachineModel::SourceProtection MachineModel::source_protection() const {
    const ChargerSpec& spec = *charger_spec_;
    return {other_protection_.value_or(spec.protection), spec.trip_s, spec.recover_s * recover_factor_};
}

void MachineModel::configure(const BenchConfiguration& configuration) {
    configuration_ = configuration;
    const bool plugged = feeds_machine(configuration);
    const int port = plan_->port_index(configuration.port);
    assert((!configuration.charger_connected || port >= 0) && "no such port");
    plugged_port_ = plugged ? port : -1;
    source_port_ = configuration.charger_connected ? port : -1;
    touched_port_ = plugged || (configuration.bare_plug && !configuration.charger_connected) ? port : -1;
    slots_ = drawn_slots_;
    live_ = false;
    refresh_leakages();
    firmware_says_.clear();
    return_ohms_ = 0.0;
    std::fill(active_.begin(), active_.end(), 0);
    std::fill(added_ohms_.begin(), added_ohms_.end(), 0.0);
    std::fill(opened_.begin(), opened_.end(), 0);
    for (std::size_t b = 0; b < conditions_.size(); ++b) {
        conditions_[b] = {};
        const auto& removed = configuration.removed;
        conditions_[b].present = !std::binary_search(removed.begin(), removed.end(), plan_->blocks[b].id);
    }
    if (plan_->pack >= 0 && !configuration.battery_in)
        conditions_[static_cast<std::size_t>(plan_->pack)].present = false;
    for (const AppliedEffect& effect : effects_)
        put_effect(effect);
    fill_pack();
    follow_pack();
    limits_amps_ = has(Habit::asks_once_rail_is_up);
    set_supply();
    if (source_port_ >= 0)
        find_source();
    for (std::size_t b = 0; b < plan_->blocks.size(); ++b)
        refresh_block(static_cast<int>(b));
}

void MachineModel::fill_pack() {
    if (plan_->pack < 0)
        return;
    const bool empty = param(plan_->pack, "empty") > 0.5;
    const bool present = conditions_[static_cast<std::size_t>(plan_->pack)].present;
    const PlanBlock& pack = plan_->blocks[static_cast<std::size_t>(plan_->pack)];
    slots_[static_cast<std::size_t>(pack.param_slots.at("volts"))] =
        present && !empty ? param(plan_->pack, "open_circuit_volts") : 0.0;
}

// What the chargers make hangs on the pack.
void MachineModel::follow_pack() {
    if (plan_->pack < 0)
        return;
    const bool present = conditions_[static_cast<std::size_t>(plan_->pack)].present;
    const double pack_volts = param(plan_->pack, "volts");
    for (const int charger : plan_->chargers) {
        const double full = param(charger, "volts");
        const double least = full * param(charger, "least_share");
        double makes = full;
        if (present && has(Habit::rail_follows_pack))
            makes = std::clamp(pack_volts + above_pack_volts, least, full);
        else if (!present && has(Habit::rail_rests_low_without_pack))
            makes = least;
        const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(charger)];
        slots_[static_cast<std::size_t>(block.param_slots.at("volts"))] = makes;
    }
}

void MachineModel::find_source() {
    const Port& port = plan_->topology().ports[static_cast<std::size_t>(source_port_)];
    charger_block_ = plan_->charger_block(port.family);
    lead_block_ = plan_->lead_block(port.family);
    charger_spec_ = &plan_->charger_spec(source_port_);
    const PlanBlock& charger = plan_->blocks[static_cast<std::size_t>(charger_block_)];
    const PlanBlock& lead = plan_->blocks[static_cast<std::size_t>(lead_block_)];
    source_node_ = {charger.pin_nodes.at("out")};
    source_signal_node_ = {charger.pin_nodes.begin()->second};
    for (const auto& [pin, node] : charger.pin_nodes) {
        if (pin != "out")
            source_signal_node_ = {node};
    }
    meter_node_ = {lead.pin_nodes.at("out")};
    source_element_ = {charger.first_element};
}

void MachineModel::set_supply() {
    const auto& injection = configuration_.injection;
    if (!injection && supply_node_ == ground)
        return;
    LimitedSource supply{{1}, ground, 0.0, supply_ohms, 1.0, 1.0};
    supply_node_ = ground;
    if (injection) {
        const int net = net_index(plan_->topology(), injection->net);
        assert(net >= 0 && "no such net");
        supply_node_ = {plan_->net_nodes[static_cast<std::size_t>(net)]};
        supply.plus = supply_node_;
        supply.volts = injection->volts;
        supply.limit_amps = injection->limit_amps;
    }
    circuit_.replace(supply_element_, supply);
}

const MachineModel::BlockCondition& MachineModel::condition(int block) const {
    return conditions_[static_cast<std::size_t>(block)];
}

bool MachineModel::circuit_is_faulty() const {
    return std::any_of(effects_.begin(), effects_.end(), [&](const AppliedEffect& applied) {
        const EffectType type = applied.effect.type;
        return (type == EffectType::shunt || type == EffectType::series || type == EffectType::open ||
                type == EffectType::param) &&
               effect_counts(applied);
    });
}

std::vector<char> MachineModel::faulty_nodes() const {
    std::vector<char> faulty(static_cast<std::size_t>(circuit_.node_count()), 0);
    for (const AppliedEffect& applied : effects_) {
        if (!effect_counts(applied))
            continue;
        for (const auto& [pin, node] : plan_->blocks[static_cast<std::size_t>(applied.block)].pin_nodes) {
            if (node > 0)
                faulty[static_cast<std::size_t>(node)] = 1;
        }
    }
    return faulty;
}

double MachineModel::resolve(const PlanValue& value) const {
    return value.slot < 0 ? value.number : slots_[static_cast<std::size_t>(value.slot)];
}

double MachineModel::param(int block, const std::string& name) const {
    const PlanBlock& plan_block = plan_->blocks[static_cast<std::size_t>(block)];
    return slots_[static_cast<std::size_t>(plan_block.param_slots.at(name))];
}

void MachineModel::set_param(int block, const std::string& name, double value) {
    const PlanBlock& plan_block = plan_->blocks[static_cast<std::size_t>(block)];
    slots_[static_cast<std::size_t>(plan_block.param_slots.at(name))] = value;
    refresh_block(block);
}

void MachineModel::set_active(int block, bool active) {
    active_[static_cast<std::size_t>(block)] = active ? 1 : 0;
    refresh_block(block);
}

void MachineModel::refresh_leakages() {
    for (std::size_t n = 0; n < leakages_.size(); ++n) {
        const double alone = leakage_ohms_[n];
        circuit_.get<Resistor>(leakages_[n]).ohms =
            live_ ? alone * voltmeter_ohms / (alone + voltmeter_ohms) : alone;
    }
}

void MachineModel::set_live(bool live) {
    if (live_ == live)
        return;
    live_ = live;
    refresh_leakages();
    for (std::size_t i = 0; i < plan_->elements.size(); ++i) {
        const ElementCondition when = plan_->elements[i].when;
        if (when == ElementCondition::live || when == ElementCondition::waiting ||
            is_faint(plan_->elements[i]))
            refresh_element(static_cast<int>(i));
    }
}

void MachineModel::set_source(double volts, double limit_amps, double fold) {
    auto& source = circuit_.get<LimitedSource>(source_element_);
    source.volts = volts * factors_[static_cast<std::size_t>(source_element_.index)];
    source.limit_amps = limit_amps;
    source.fold = fold;
    const bool limits = has(Habit::asks_once_rail_is_up) && volts < limited_below_volts;
    if (limits != limits_amps_) {
        limits_amps_ = limits;
        refresh_limited();
    }
}

void MachineModel::refresh_limited() {
    for (std::size_t i = 0; i < plan_->elements.size(); ++i) {
        const ElementCondition when = plan_->elements[i].when;
        if (when == ElementCondition::limited || when == ElementCondition::unlimited)
            refresh_element(static_cast<int>(i));
    }
}

bool MachineModel::condition_holds(const PlanElement& element) const {
    const PlanBlock& block = plan_->blocks[static_cast<std::size_t>(element.block)];
    if (!conditions_[static_cast<std::size_t>(element.block)].present)
        return false;
    if (!block.family.empty()) {
        const bool in_use =
            source_port_ >= 0 &&
            plan_->topology().ports[static_cast<std::size_t>(source_port_)].family == block.family;
        if (!in_use)
            return false;
    }
    if ((element.only_by && !has(*element.only_by)) || (element.never_by && has(*element.never_by)))
        return false;
    switch (element.when) {
        case ElementCondition::always:
            return true;
        case ElementCondition::live:
            return live_;
        case ElementCondition::active:
            return active_[static_cast<std::size_t>(element.block)] != 0;
        case ElementCondition::limited:
            return active_[static_cast<std::size_t>(element.block)] != 0 && limits_amps_;
        case ElementCondition::unlimited:
            return active_[static_cast<std::size_t>(element.block)] != 0 && !limits_amps_;
        case ElementCondition::waiting:
            return live_ && active_[static_cast<std::size_t>(element.block)] == 0;
        case ElementCondition::plugged:
        case ElementCondition::plugged_a:
        case ElementCondition::plugged_b:
            return plug_touches(element.when, block, touched_port_, configuration_.side);
    }
    return false;
}

Element MachineModel::make_element(const PlanElement& e, bool on, double added_ohms, double factor) const {
    const NodeId from{e.from};
    const NodeId to{e.to};
    const auto value = [&](ElementValue which) { return resolve(e.values[which]); };
    const double fold = e.folds_by && !has(*e.folds_by) ? 1.0 : value(value_fold);
    switch (e.type) {
        case ElementType::resistor:
            return Resistor{
                from, to, on ? std::max(value(value_ohms) * factor, smallest_ohms) + added_ohms : open_ohms};
        case ElementType::diode:
            return Diode{from, to, on ? value(value_saturation_amps) * factor : off_saturation_amps,
                         on ? value(value_emission) : off_emission};
        case ElementType::limited_source:
            return LimitedSource{to,
                                 from,
                                 on ? value(value_volts) * factor : 0.0,
                                 value(value_ohms) + added_ohms,
                                 value(value_limit_amps),
                                 fold};
        case ElementType::power_load:
            return ConstantPowerLoad{from, to, on ? value(value_watts) * factor : 0.0,
                                     value(value_floor_volts)};
        case ElementType::regulator:
            return Regulator{from,
                             to,
                             on ? value(value_volts) * factor : 0.0,
                             value(value_dropout_volts),
                             value(value_ohms),
                             value(value_limit_amps),
                             value(value_efficiency),
                             value(value_quiescent_amps),
                             fold};
        case ElementType::current:
            return CurrentSource{from, to, on ? value(value_amps) * factor : 0.0};
    }
    return Resistor{from, to, open_ohms};
}

bool MachineModel::is_faint(const PlanElement& element) const {
    return element.faint_by && has(*element.faint_by);
}

void MachineModel::refresh_element(int index) {
    const auto i = static_cast<std::size_t>(index);
    const PlanElement& element = plan_->elements[i];
    const bool on = condition_holds(element) && opened_[i] == 0;
    std::visit([&](auto&& fresh) { circuit_.get<std::decay_t<decltype(fresh)>>(ElementId{index}) = fresh; },
               make_element(element, on, added_ohms_[i], factors_[i]));
    if (opened_[i] != 0 && condition_holds(element) && element.type == ElementType::resistor)
        circuit_.get<Resistor>(ElementId{index}).ohms = broken_ohms_;
    if (on && !live_ && is_faint(element))
        circuit_.get<Resistor>(ElementId{index}).ohms = faint_ohms_;
}

void MachineModel::refresh_block(int block) {
    const PlanBlock& plan_block = plan_->blocks[static_cast<std::size_t>(block)];
    for (int i = 0; i < plan_block.element_count; ++i) {
        const int index = plan_block.first_element + i;
        if (source_port_ >= 0 && index == source_element_.index)
            continue;  // set_source owns it
        refresh_element(index);
    }
}

}  // namespace eh
