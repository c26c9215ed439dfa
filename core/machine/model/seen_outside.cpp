// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/seen_outside.h"

#include <algorithm>
#include <cmath>

namespace eh {
namespace {

constexpr const char* usbc_family = "usb-c";
constexpr double label_share = 0.05;  // makers round their labels

bool is_round(const Knowledge& knowledge, const Topology& topology, const Port& port) {
    const ChargerSpec* charger = find_charger(knowledge.kit, topology, port.charger);
    const BlockKind* kind = charger == nullptr ? nullptr : knowledge.find_kind(charger->kind);
    return kind != nullptr && kind->role == BlockRole::source_fixed;
}

bool has_label(const Knowledge& knowledge, const Topology& topology, double volts) {
    return std::any_of(topology.ports.begin(), topology.ports.end(), [&](const Port& port) {
        const ChargerSpec* charger = find_charger(knowledge.kit, topology, port.charger);
        return charger != nullptr && !charger->offers.empty() &&
               std::abs(charger->offers.back().volts - volts) <= label_share * volts;
    });
}

using PartPlace = std::pair<std::string, std::string>;  // kind, port

std::map<PartPlace, int> parts_of(const Topology& topology) {
    std::map<PartPlace, int> parts;
    for (const Block& block : topology.blocks)
        ++parts[{block.kind, block.port}];
    return parts;
}

}  // namespace

std::map<std::string, int> inlets_of(const Knowledge& knowledge, const Topology& topology) {
    std::map<std::string, int> inlets;
    for (const Port& port : topology.ports) {
        const LeadSpec* lead = knowledge.kit.lead_for(port.family);
        ++inlets[lead != nullptr && is_round(knowledge, topology, port) ? lead->kind : port.family];
    }
    return inlets;
}

SeenOutside seen_of(const Knowledge& knowledge, const Topology& topology) {
    SeenOutside seen;
    seen.usbc_ports = 0;
    seen.other = OtherInlet::none;
    for (const Port& port : topology.ports) {
        if (port.family == usbc_family)
            ++*seen.usbc_ports;
        else
            seen.other = is_round(knowledge, topology, port) ? OtherInlet::round_jack : OtherInlet::magnetic;
    }
    return seen;
}

std::vector<const Topology*> kinds_seen_as(const Knowledge& knowledge, const SeenOutside& seen) {
    std::vector<const Topology*> kinds;
    for (const Topology& topology : knowledge.topologies) {
        const SeenOutside own = seen_of(knowledge, topology);
        const bool fits =
            (!seen.usbc_ports || seen.usbc_ports == own.usbc_ports) &&
            (seen.other == OtherInlet::any || seen.other == own.other) &&
            (!seen.charger_label_volts || has_label(knowledge, topology, *seen.charger_label_volts));
        if (fits)
            kinds.push_back(&topology);
    }
    return kinds;
}

const Topology* likeliest_of(const Knowledge& knowledge, const std::vector<const Topology*>& kinds) {
    const Topology* likeliest = nullptr;
    for (const Topology* kind : kinds) {
        if (kind->share <= 0.0)
            continue;
        if (likeliest != nullptr && inlets_of(knowledge, *kind) != inlets_of(knowledge, *likeliest))
            return nullptr;
        if (likeliest == nullptr || kind->share > likeliest->share)
            likeliest = kind;
    }
    return likeliest;
}

std::vector<std::string> parts_not_in_all(const Topology& topology,
                                          const std::vector<const Topology*>& others) {
    const auto own = parts_of(topology);
    std::vector<std::string> unsure;
    for (const Block& block : topology.blocks) {
        const PartPlace place{block.kind, block.port};
        const bool everywhere = std::all_of(others.begin(), others.end(), [&](const Topology* other) {
            const auto theirs = parts_of(*other);
            const auto found = theirs.find(place);
            return found != theirs.end() && found->second >= own.at(place);
        });
        if (!everywhere)
            unsure.push_back(block.id);
    }
    return unsure;
}

}  // namespace eh
