// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/machine_plan.h"

#include <algorithm>
#include <cassert>

namespace eh {
namespace {

const std::map<std::string, ElementValue> value_names{
    {"ohms", value_ohms},
    {"volts", value_volts},
    {"limit_amps", value_limit_amps},
    {"fold", value_fold},
    {"watts", value_watts},
    {"floor_volts", value_floor_volts},
    {"dropout_volts", value_dropout_volts},
    {"efficiency", value_efficiency},
    {"quiescent_amps", value_quiescent_amps},
    {"saturation_amps", value_saturation_amps},
    {"emission", value_emission},
    {"amps", value_amps},
};

std::array<PlanValue, element_value_count> default_values() {
    std::array<PlanValue, element_value_count> values;
    values[value_limit_amps].number = 10.0;
    values[value_fold].number = 1.0;
    values[value_floor_volts].number = 1.0;
    values[value_emission].number = 1.0;
    values[value_saturation_amps].number = 1e-9;
    values[value_ohms].number = 0.05;
    return values;
}

}  // namespace

std::string charger_block_id(const std::string& family) {
    return "charger_" + family;
}
std::string lead_block_id(const std::string& family) {
    return "lead_" + family;
}

std::string instrument_block_id(const BlockKind& kind) {
    return "bench_" + kind.id;
}

MachinePlan::MachinePlan(const Knowledge& knowledge, const Topology& topology)
    : node_names{"gnd"}, knowledge_(&knowledge), topology_(&topology) {
    for (const Net& net : topology.nets)
        net_nodes.push_back(add_node(net.id));
    for (const Block& block : topology.blocks) {
        const BlockKind* kind = knowledge.find_kind(block.kind);
        assert(kind != nullptr);
        const int index = add_block(block.id, *kind, block.pins, block.params);
        blocks[static_cast<std::size_t>(index)].port = port_index(block.port);
        if (kind->role == BlockRole::mainboard)
            mainboard = index;
        if (kind->role == BlockRole::pack)
            pack = index;
        if (kind->role == BlockRole::charger)
            chargers.push_back(index);
        const auto& pins = blocks[static_cast<std::size_t>(index)].pin_nodes;
        if (const auto supply = pins.find("supply");
            kind->id == "embedded_controller" && supply != pins.end())
            always_on_node = supply->second;
        if (makes_five_volts(blocks[static_cast<std::size_t>(index)]))
            five_volt_supply = index;
    }
    rail_node = node(topology.system_rail);
    // Needs refer to other blocks, so they are resolved when all of them are there.
    for (std::size_t i = 0; i < topology.blocks.size(); ++i) {
        const Block& block = topology.blocks[i];
        for (const Need& need : blocks[i].kind->needs)
            blocks[i].needs.push_back(resolve(need, block, blocks[i]));
        for (const Need& need : block.charge_needs)
            blocks[i].charge_needs.push_back(resolve(need, block, blocks[i]));
        if (const auto peers = block.links.find("peers"); peers != block.links.end()) {
            for (const std::string& peer : peers->second)
                blocks[i].peers.push_back(find_block(peer));
        }
    }
    for (const Port& port : topology.ports) {
        controller_of_port.push_back(-1);
        for (std::size_t i = 0; i < blocks.size() && port.controller.empty(); ++i) {
            if (blocks[i].kind->role == BlockRole::controller && blocks[i].port == port_index(port.id))
                controller_of_port.back() = static_cast<int>(i);
        }
        if (!port.controller.empty())
            controller_of_port.back() = find_block(port.controller);
        path_out_nodes.push_back(path_out_node(port_index(port.id)));
        if (charger_block(port.family) < 0)
            add_outside(port.family, *find_charger(knowledge.kit, topology, port.charger),
                        *knowledge.kit.lead_for(port.family));
    }
    add_variety();
    add_impossible_habits();
    for (const BlockKind& kind : knowledge.kinds) {
        if (kind.role == BlockRole::inline_meter)
            inline_meter = add_block(instrument_block_id(kind), kind, {}, {});
        if (kind.role == BlockRole::multimeter)
            multimeter = add_block(instrument_block_id(kind), kind, {}, {});
    }
}

int MachinePlan::path_out_node(int port) const {
    for (const PlanBlock& block : blocks) {
        const bool waits_for_contract = std::any_of(block.needs.begin(), block.needs.end(),
                                                    [](const PlanNeed& need) { return need.contract; });
        const auto out = block.pin_nodes.find("out");
        if (block.port == port && waits_for_contract && out != block.pin_nodes.end())
            return out->second;
    }
    return -1;
}

// Whether a block's regulator makes the machine's 5 V.
bool MachinePlan::makes_five_volts(const PlanBlock& block) const {
    constexpr double lowest = 4.7;
    constexpr double highest = 5.4;
    const auto volts = block.param_slots.find("volts");
    const bool regulates =
        std::any_of(block.kind->elements.begin(), block.kind->elements.end(),
                    [](const ElementSpec& element) { return element.type == ElementType::regulator; });
    if (!regulates || volts == block.param_slots.end() || block.pin_nodes.count("out") == 0)
        return false;
    const double set = slot_values[static_cast<std::size_t>(volts->second)];
    return set > lowest && set < highest;
}

void MachinePlan::add_variety() {
    net_variety.resize(net_nodes.size());
    for (const PlanBlock& block : blocks) {
        for (const PinVariety& of_pin : knowledge_->variety.pins) {
            const auto pin = block.pin_nodes.find(of_pin.pin);
            if (of_pin.kind != block.kind->id || pin == block.pin_nodes.end())
                continue;
            const auto net = std::find(net_nodes.begin(), net_nodes.end(), pin->second);
            if (net == net_nodes.end())
                continue;
            NetVariety& widest = net_variety[static_cast<std::size_t>(net - net_nodes.begin())];
            widest.volts_share = std::max(widest.volts_share, of_pin.net.volts_share);
            widest.ohms_ln = std::max(widest.ohms_ln, of_pin.net.ohms_ln);
        }
    }
}

// A habit that takes an element away and puts none in its place, as this board is wired, is none here.
void MachinePlan::add_impossible_habits() {
    ByHabit<bool> puts_in{};
    for (const PlanElement& element : elements) {
        if (element.only_by)
            puts_in[static_cast<std::size_t>(*element.only_by)] = true;
        if (element.never_by)
            impossible_habits[static_cast<std::size_t>(*element.never_by)] = true;
    }
    for (std::size_t h = 0; h < habit_count; ++h)
        impossible_habits[h] = impossible_habits[h] && !puts_in[h];
    // A charger that steps up, too, has four switches, which block both ways between its rail and its input.
    for (const int charger : chargers) {
        const PlanBlock& block = blocks[static_cast<std::size_t>(charger)];
        const auto dropout = block.param_slots.find("dropout_volts");
        if (dropout != block.param_slots.end() &&
            slot_values[static_cast<std::size_t>(dropout->second)] < 0.0)
            impossible_habits[static_cast<std::size_t>(Habit::rail_backs_into_input)] = true;
    }
}

int MachinePlan::add_node(const std::string& name) {
    const int known = node(name);
    if (known >= 0)
        return known;
    node_names.push_back(name);
    return static_cast<int>(node_names.size()) - 1;
}

int MachinePlan::node(const std::string& name) const {
    const auto found = std::find(node_names.begin(), node_names.end(), name);
    return found == node_names.end() ? -1 : static_cast<int>(found - node_names.begin());
}

int MachinePlan::find_block(const std::string& id) const {
    const auto found =
        std::find_if(blocks.begin(), blocks.end(), [&](const PlanBlock& b) { return b.id == id; });
    return found == blocks.end() ? -1 : static_cast<int>(found - blocks.begin());
}

int MachinePlan::port_index(const std::string& id) const {
    const auto& ports = topology_->ports;
    const auto found = std::find_if(ports.begin(), ports.end(), [&](const Port& p) { return p.id == id; });
    return found == ports.end() ? -1 : static_cast<int>(found - ports.begin());
}

int MachinePlan::charger_block(const std::string& family) const {
    return find_block(charger_block_id(family));
}
int MachinePlan::lead_block(const std::string& family) const {
    return find_block(lead_block_id(family));
}

const ChargerSpec& MachinePlan::charger_spec(int port) const {
    const ChargerSpec* spec =
        find_charger(knowledge_->kit, *topology_, topology_->ports[static_cast<std::size_t>(port)].charger);
    assert(spec != nullptr);
    return *spec;
}

int MachinePlan::add_block(const std::string& id, const BlockKind& kind,
                           const std::map<std::string, std::string>& pins,
                           const std::map<std::string, double>& params) {
    PlanBlock block;
    block.id = id;
    block.kind = &kind;
    for (const auto& [name, value] : kind.params) {
        const auto given = params.find(name);
        block.param_slots[name] = static_cast<int>(slot_values.size());
        slot_values.push_back(given == params.end() ? value : given->second);
        const auto tolerance = kind.param_tolerance.find(name);
        slot_tolerances.push_back(tolerance == kind.param_tolerance.end() ? 0.0 : tolerance->second);
    }
    for (const auto& [pin, net] : pins)
        block.pin_nodes[pin] = net == "nc" ? -1 : net == "gnd" ? 0 : add_node(net);
    block.first_element = static_cast<int>(elements.size());
    const int index = static_cast<int>(blocks.size());
    for (const ElementSpec& spec : kind.elements) {
        const auto node_at = [&](const std::string& pin) {
            return pin == "gnd" ? 0 : block.pin_nodes.at(pin);
        };
        PlanElement element;
        element.name = spec.name;
        element.block = index;
        element.from = node_at(spec.from);
        element.to = node_at(spec.to);
        if (element.from < 0 || element.to < 0)
            continue;  // the pin is not connected on this board
        element.type = spec.type;
        element.when = spec.when;
        element.faint_by = spec.faint_by;
        element.only_by = spec.only_by;
        element.never_by = spec.never_by;
        element.folds_by = spec.folds_by;
        element.stops_when_shorted = spec.stops_when_shorted;
        element.tolerance = spec.tolerance;
        element.values = default_values();
        for (const auto& [name, value] : spec.values) {
            if (const auto known = value_names.find(name); known != value_names.end())
                element.values[known->second] = resolve(value, block);
        }
        elements.push_back(std::move(element));
    }
    block.element_count = static_cast<int>(elements.size()) - block.first_element;
    blocks.push_back(std::move(block));
    return index;
}

PlanValue MachinePlan::resolve(const ValueSpec& value, const PlanBlock& block) const {
    if (value.param.empty())
        return {value.number, -1};
    return {0.0, block.param_slots.at(value.param)};
}

PlanNeed MachinePlan::resolve(const Need& need, const Block& source, const PlanBlock& block) const {
    PlanNeed plan;
    plan.contract = need.contract;
    plan.purpose = need.purpose;
    plan.habit = need.habit;
    plan.eased_by = need.eased_by;
    plan.eased_to_volts = need.eased_to_volts;
    plan.eased_without_pack = need.eased_without_pack;
    for (std::size_t b = 0; b < blocks.size() && !need.undamaged.empty(); ++b) {
        if (blocks[b].kind->id == need.undamaged)
            plan.undamaged.push_back(static_cast<int>(b));
    }
    plan.plugged_port = need.plugged.empty() ? -1 : port_index(need.plugged);
    if (!need.pin.empty()) {
        const auto pin = block.pin_nodes.find(need.pin);
        plan.node = pin != block.pin_nodes.end() ? pin->second : node(need.pin);
    }
    const auto add_linked = [&](const std::string& name, std::vector<int>& targets) {
        const auto link = source.links.find(name);
        for (std::size_t t = 0; link != source.links.end() && t < link->second.size(); ++t)
            targets.push_back(find_block(link->second[t]));
    };
    add_linked(need.link, plan.blocks);
    add_linked(need.unstopped, plan.unstopped);
    if (need.above_volts)
        plan.above = resolve(*need.above_volts, block);
    if (need.below_volts)
        plan.below = resolve(*need.below_volts, block);
    return plan;
}

void MachinePlan::add_outside(const std::string& family, const ChargerSpec& charger, const LeadSpec& lead) {
    const BlockKind* charger_kind = knowledge_->find_kind(charger.kind);
    const BlockKind* lead_kind = knowledge_->find_kind(lead.kind);
    assert(charger_kind != nullptr && lead_kind != nullptr);
    const std::string out = "source_" + family;
    std::map<std::string, std::string> charger_pins{{"out", out}};
    std::map<std::string, std::string> lead_pins{{"in", out}, {"out", "plug"}};
    // The signal beside the power: CC, an ID line, or none.
    for (const char* signal : {"cc", "id"}) {
        const std::string name = signal;
        const auto& pins = charger_kind->pins;
        if (std::find(pins.begin(), pins.end(), name) == pins.end())
            continue;
        charger_pins[name] = "source_" + name + "_" + family;
        lead_pins[name + "_in"] = charger_pins[name];
        lead_pins[name + "_out"] = "plug_" + name;
    }
    const int c = add_block(charger_block_id(family), *charger_kind, charger_pins, {});
    blocks[static_cast<std::size_t>(c)].family = family;
    const int l = add_block(lead_block_id(family), *lead_kind, lead_pins, {});
    blocks[static_cast<std::size_t>(l)].family = family;
}

}  // namespace eh
