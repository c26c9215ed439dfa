// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/topology_template.h"

#include <algorithm>
#include <cctype>
#include <set>

#include "core/base/json_reader.h"
#include "core/base/text.h"

namespace eh {
namespace {

using nlohmann::json;

constexpr int deepest_base = 8;

std::string replaced(std::string text, const std::string& what, const std::string& with) {
    for (std::size_t at = text.find(what); at != std::string::npos; at = text.find(what, at + with.size()))
        text.replace(at, what.size(), with);
    return text;
}

std::string text_of(const json& object, const char* key) {
    const auto found = object.find(key);
    return found != object.end() && found->is_string() ? found->get<std::string>() : std::string();
}

// One port as its templates see it.
struct PortWords {
    std::string number, id, title, name, family;

    [[nodiscard]] std::string fill(const std::string& text) const {
        return replaced(replaced(replaced(replaced(text, "{n}", number), "{port}", id), "{title}", title),
                        "{name}", name);
    }
};

std::vector<PortWords> words_of_ports(const json& topology) {
    std::vector<PortWords> words;
    if (!topology.contains("ports") || !topology["ports"].is_array())
        return words;
    for (const json& port : topology["ports"]) {
        PortWords w{integer_text(words.size() + 1),
                    text_of(port, "id"),
                    text_of(port, "title"),
                    {},
                    text_of(port, "family")};
        w.name = w.title;
        // "Port 1" inside a sentence is "port 1"; "USB-C port" keeps its capitals.
        if (w.name.size() > 1 && std::islower(static_cast<unsigned char>(w.name[1])) != 0)
            w.name[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(w.name[0])));
        words.push_back(std::move(w));
    }
    return words;
}

// A copy with the words filled in, and lists of targets that name other ports written out.
json filled(const json& value, const PortWords* self, const std::vector<PortWords>& all) {
    if (value.is_string())
        return self == nullptr ? value : json(self->fill(value.get<std::string>()));
    if (value.is_array()) {
        json list = json::array();
        for (const json& item : value) {
            const std::string text = item.is_string() ? item.get<std::string>() : std::string();
            const bool others = text.rfind("others:", 0) == 0;
            if (!others && text.rfind("each:", 0) != 0) {
                list.push_back(filled(item, self, all));
                continue;
            }
            for (const PortWords& port : all) {
                if (!others || self == nullptr || port.id != self->id)
                    list.push_back(port.fill(text.substr(text.find(':') + 1)));
            }
        }
        return list;
    }
    if (value.is_object()) {
        json object = json::object();
        for (const auto& [key, item] : value.items())
            object[self == nullptr ? key : self->fill(key)] = filled(item, self, all);
        return object;
    }
    return value;
}

void write_out_ports(json& topology) {
    const auto ports = words_of_ports(topology);
    const json templates = topology.value("per_port", json::array());
    topology.erase("per_port");
    json nets = json::array();
    json blocks = json::array();
    for (const json& one : templates) {
        std::vector<PortWords> of_family;
        const std::string family = text_of(one, "family");
        std::copy_if(ports.begin(), ports.end(), std::back_inserter(of_family),
                     [&](const PortWords& port) { return family.empty() || port.family == family; });
        for (const auto& [list, key] : {std::pair(&nets, "nets"), {&blocks, "blocks"}}) {
            for (const json& item : one.value(key, json::array())) {
                for (const PortWords& port : of_family)
                    list->push_back(filled(item, &port, ports));
            }
        }
    }
    for (const auto& [list, key] : {std::pair(&nets, "nets"), {&blocks, "blocks"}}) {
        for (const json& item : topology.value(key, json::array()))
            list->push_back(filled(item, nullptr, ports));
        topology[key] = std::move(*list);
    }
}

json* item_with_id(json& list, const std::string& id) {
    for (json& item : list) {
        if (text_of(item, "id") == id)
            return &item;
    }
    return nullptr;
}

// What hangs on nets alone that were left out goes with them.
void leave_out_what_hangs_there(json& topology, const std::set<std::string>& nets) {
    json& blocks = topology["blocks"];
    for (std::size_t i = blocks.size(); i-- > 0;) {
        const json pins = blocks[i].value("pins", json::object());
        const bool hangs_there = !pins.empty() && std::all_of(pins.begin(), pins.end(), [&](const json& net) {
            return net.is_string() && nets.count(net.get<std::string>()) > 0;
        });
        if (hangs_there)
            blocks.erase(i);
    }
}

// "params", "net_volts", "net_ohms" and "without" of a file that builds on another.
void change_values(json& topology, const std::string& file) {
    const auto wrong = [&](const std::string& sentence, const std::string& place) {
        throw JsonRefused{refused(sentence, file + ": " + place)};
    };
    const json params = topology.value("params", json::object());
    for (const auto& [block, values] : params.items()) {
        json* item = item_with_id(topology["blocks"], block);
        if (item == nullptr)
            wrong("there is no block “" + block + "”", "params");
        (*item)["params"].update(values);
    }
    for (const auto& [key, member] : {std::pair("net_volts", "volts"), {"net_ohms", "ohms"}}) {
        const json values = topology.value(key, json::object());
        for (const auto& [net, value] : values.items()) {
            json* item = item_with_id(topology["nets"], net);
            if (item == nullptr)
                wrong("there is no net “" + net + "”", key);
            (*item)[member] = value;
        }
    }
    const json without = topology.value("without", json::array());
    std::set<std::string> nets_left_out;
    for (const json& id : without) {
        const std::string name = id.is_string() ? id.get<std::string>() : std::string();
        bool found = false;
        for (const char* key : {"nets", "blocks"}) {
            json& list = topology[key];
            for (std::size_t i = 0; i < list.size(); ++i) {
                if (text_of(list[i], "id") == name) {
                    list.erase(i);
                    found = true;
                    // A net may be left out to be written anew.
                    if (&list == &topology["nets"] && item_with_id(list, name) == nullptr)
                        nets_left_out.insert(name);
                    break;
                }
            }
        }
        if (!found)
            wrong("there is nothing called “" + name + "” to leave out", "without");
    }
    leave_out_what_hangs_there(topology, nets_left_out);
    for (const char* key : {"params", "net_volts", "net_ohms", "without"})
        topology.erase(key);
}

// This file over its base, the base over its own, and so on.
json merged(const json& source, const std::string& file, const FindTopologyFile& find, int depth) {
    const std::string base = text_of(source, "based_on");
    if (base.empty())
        return source;
    const json* below = find(base);
    if (below == nullptr || depth > deepest_base)
        throw JsonRefused{refused(below == nullptr ? "there is no topology “" + base + "” to build on"
                                                   : "it is based on itself, through “" + base + "”",
                                  file + ": based_on")};
    json result = merged(*below, file, find, depth + 1);
    // How often the base is met says nothing of what is built on it.
    result.erase("share");
    for (const auto& [key, value] : source.items()) {
        const bool adds_up =
            (key == "params" || key == "net_volts" || key == "net_ohms") && result.contains(key);
        const std::string list = key.rfind("add_", 0) == 0 ? key.substr(4) : std::string();
        if (adds_up && value.is_object() && result[key].is_object())
            result[key].merge_patch(value);
        else if (!list.empty() && value.is_array())
            result[list].insert(result[list].end(), value.begin(), value.end());
        else
            result[key] = value;
    }
    return result;
}

}  // namespace

json expand_topology(const json& source, const std::string& file, const FindTopologyFile& find) {
    if (!source.is_object())
        return source;
    json topology = merged(source, file, find, 0);
    topology.erase("based_on");
    write_out_ports(topology);
    change_values(topology, file);
    return topology;
}

}  // namespace eh
