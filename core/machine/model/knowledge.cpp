// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/knowledge.h"

#include <algorithm>
#include <cassert>

namespace eh {
namespace {

template <typename List>
auto find_by_id(const List& list, const std::string& id) -> decltype(&*list.begin()) {
    const auto found =
        std::find_if(list.begin(), list.end(), [&](const auto& item) { return item.id == id; });
    return found == list.end() ? nullptr : &*found;
}

}  // namespace

const Port* Topology::find_port(const std::string& port_id) const {
    return find_by_id(ports, port_id);
}
const Net* Topology::find_net(const std::string& net_id) const {
    return find_by_id(nets, net_id);
}
const Block* Topology::find_block(const std::string& block_id) const {
    return find_by_id(blocks, block_id);
}
const FaultSpec* FaultCatalogue::find(const std::string& id) const {
    return find_by_id(faults, id);
}
const BlockKind* Knowledge::find_kind(const std::string& id) const {
    return find_by_id(kinds, id);
}
const Topology* Knowledge::find_topology(const std::string& id) const {
    return find_by_id(topologies, id);
}
const ChargerSpec* Kit::find_charger(const std::string& id) const {
    return find_by_id(chargers, id);
}

const ChargerSpec* find_charger(const Kit& kit, const Topology& topology, const std::string& id) {
    const ChargerSpec* own = find_by_id(topology.chargers, id);
    return own == nullptr ? kit.find_charger(id) : own;
}

const LeadSpec* Kit::lead_for(const std::string& family) const {
    const auto found =
        std::find_if(leads.begin(), leads.end(), [&](const LeadSpec& lead) { return lead.family == family; });
    return found == leads.end() ? nullptr : &*found;
}

std::string fault_title(const Knowledge& knowledge, const Topology& topology, const FaultInstance& fault) {
    const FaultSpec* spec = knowledge.catalogue.find(fault.fault);
    assert(spec != nullptr);
    std::string owner;
    if (const Block* block = topology.find_block(fault.block))
        owner = block->title;
    else if (const BlockKind* kind = knowledge.find_kind(spec->kind))
        owner =
            (kind->role == BlockRole::inline_meter || kind->role == BlockRole::multimeter ? "The shop's "
                                                                                          : "Customer's ") +
            kind->title;
    return owner + ": " + spec->title;
}

}  // namespace eh
