// SPDX-License-Identifier: GPL-3.0-or-later
// topologies/*.json
#include <algorithm>
#include <set>

#include "core/base/fingerprint.h"
#include "core/base/json_text.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/knowledge/read_common.h"
#include "core/machine/model/knowledge.h"

namespace eh {
namespace {

// Nets that exist outside every machine.
const std::set<std::string> outside_nets{"gnd", "nc", "plug", "plug_cc", "plug_id"};

Block read_block(const JsonReader& field, const Topology& topology, const std::vector<BlockKind>& kinds) {
    Block block;
    block.id = field.text("id");
    block.kind = field.text("kind");
    block.title = field.text("title");
    block.port = field.text("port", "");
    const auto kind =
        std::find_if(kinds.begin(), kinds.end(), [&](const BlockKind& k) { return k.id == block.kind; });
    if (kind == kinds.end())
        field.at("kind").refuse("there is no kind “" + block.kind + "”");
    if (!block.port.empty() && topology.find_port(block.port) == nullptr)
        field.at("port").refuse("there is no port “" + block.port + "”");
    for (const auto& [pin, net] : field.at("pins").members()) {
        if (std::find(kind->pins.begin(), kind->pins.end(), pin) == kind->pins.end())
            net.refuse("the kind “" + kind->id + "” has no such pin");
        const std::string name = net.text();
        if (outside_nets.count(name) == 0 && topology.find_net(name) == nullptr)
            net.refuse("there is no net “" + name + "”");
        block.pins[pin] = name;
    }
    for (const std::string& pin : kind->optional_pins)
        block.pins.emplace(pin, "nc");
    for (const std::string& pin : kind->pins) {
        if (block.pins.count(pin) == 0)
            field.refuse("the pin “" + pin + "” has no net; write \"nc\" when it stays open");
    }
    if (field.has("links")) {
        for (const auto& [name, list] : field.at("links").members()) {
            for (const auto& item : list.raw())
                block.links[name].push_back(JsonReader(item, list.path()).text());
        }
    }
    if (field.has("params")) {
        for (const auto& [name, value] : field.at("params").members()) {
            if (kind->params.count(name) == 0)
                value.refuse("the kind “" + kind->id + "” has no such parameter");
            block.params[name] = value.number();
        }
    }
    for (const JsonReader& item : field.items_or_none("charge_needs")) {
        block.charge_needs.push_back(read_need(item));
        const std::string& port = block.charge_needs.back().plugged;
        if (!port.empty() && topology.find_port(port) == nullptr)
            item.at("plugged").refuse("there is no port “" + port + "”");
    }
    return block;
}

void check_links(const Topology& topology, const std::string& file) {
    for (const Block& block : topology.blocks) {
        for (const auto& [name, targets] : block.links) {
            for (const std::string& target : targets) {
                if (topology.find_block(target) == nullptr)
                    throw JsonRefused{refused("there is no block “" + target + "”",
                                              file + ": block " + block.id + ": links: " + name)};
            }
        }
    }
}

}  // namespace

Result<Topology> parse_topology(const std::string& text, const std::string& file,
                                const std::vector<BlockKind>& kinds, const Kit& kit,
                                const FindTopologyFile& find) {
    return read_json<Topology>(text, file, [&](const JsonReader& source) {
        source.check_format("eager-hound.topology", 1);
        const nlohmann::json written_out = expand_topology(source.raw(), file, find);
        const JsonReader root(written_out, source.path());
        Topology topology;
        topology.fingerprint = fingerprint(json_text(written_out));
        topology.id = root.identifier<TopologyId>("id");
        topology.title = root.text("title");
        topology.about = root.text("about", "");
        topology.order = root.number("order", topology.order);
        topology.share = root.has("share") ? root.number_between("share", 0.0, 1.0) : 0.0;
        topology.wanted_volts = root.number_between("wanted_volts", 1.0, 60.0);
        topology.system_rail = root.text("system_rail");
        for (const JsonReader& item : root.items_or_none("chargers"))
            topology.chargers.push_back(read_charger(item));
        for (const JsonReader& item : root.items("ports")) {
            Port port{
                item.text("id"),      item.text("title"), item.text("family"),        item.text("place", ""),
                item.text("charger"), item.text("vbus"),  item.text("controller", "")};
            if (find_charger(kit, topology, port.charger) == nullptr)
                item.at("charger").refuse("neither the kit nor this file has a charger “" + port.charger +
                                          "”");
            if (kit.lead_for(port.family) == nullptr)
                item.at("family").refuse("the kit has no lead for “" + port.family + "”");
            topology.ports.push_back(std::move(port));
        }
        if (topology.ports.empty())
            root.at("ports").refuse("a machine has at least one port");
        for (const JsonReader& item : root.items("nets")) {
            Net net{item.text("id"),       item.text("title"),        item.texts("names"),
                    item.text("port", ""), item.number("volts", 0.0), {},
                    item.text("stage", "")};
            if (item.has("ohms"))
                net.known_ohms = item.number_between("ohms", 1e-3, 1e7);
            if (topology.find_net(net.id) != nullptr)
                item.refuse("the net “" + net.id + "” is listed twice");
            topology.nets.push_back(std::move(net));
        }
        if (topology.find_net(topology.system_rail) == nullptr)
            root.at("system_rail").refuse("there is no net “" + topology.system_rail + "”");
        for (const Port& port : topology.ports) {
            if (topology.find_net(port.vbus) == nullptr)
                root.at("ports").refuse("the port “" + port.id + "” names no known net as its vbus");
        }
        for (const JsonReader& item : root.items("blocks")) {
            Block block = read_block(item, topology, kinds);
            if (topology.find_block(block.id) != nullptr)
                item.refuse("the block “" + block.id + "” is listed twice");
            topology.blocks.push_back(std::move(block));
        }
        check_links(topology, file);
        for (const Port& port : topology.ports) {
            if (!port.controller.empty() && topology.find_block(port.controller) == nullptr)
                root.at("ports").refuse("there is no block “" + port.controller +
                                        "” to negotiate for port “" + port.id + "”");
        }
        return topology;
    });
}

}  // namespace eh
