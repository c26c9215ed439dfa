// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/knowledge/machine_profile.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/base/text.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/net_index.h"
#include "core/machine/simulation/known_ohms.h"
#include "core/machine/simulation/observation.h"

namespace eh {
namespace {

using nlohmann::json;

constexpr int most_cells = 6;
constexpr double most_watts = 240.0;
constexpr double least_watts = 10.0;
constexpr std::size_t most_ports = 6;
// By which a charger circuit's output stands above the full pack.
constexpr double rail_above_pack_volts = 0.3;

const Block* block_of_kind(const Topology& topology, const std::string& kind) {
    const auto found = std::find_if(topology.blocks.begin(), topology.blocks.end(),
                                    [&](const Block& block) { return block.kind == kind; });
    return found == topology.blocks.end() ? nullptr : &*found;
}

double param_of(const Block& block, const std::string& name, const Knowledge& knowledge) {
    if (const auto own = block.params.find(name); own != block.params.end())
        return own->second;
    const auto& usual = knowledge.find_kind(block.kind)->params;
    const auto found = usual.find(name);
    return found == usual.end() ? 0.0 : found->second;
}

bool is_usbc(const Port& port) {
    return port.family == "usb-c";
}

bool is_barrel(const Port& port) {
    return port.family.rfind("barrel", 0) == 0;
}

const ChargerSpec& charger_of(const Port& port, const Topology& topology, const Knowledge& knowledge) {
    return *find_charger(knowledge.kit, topology, port.charger);
}

// The charger that stands in for the base's at ports of this kind.
json charger_file(const ChargerSpec& like, const std::string& id, const MachineProfile& profile) {
    json offers = json::array();
    const bool usbc = like.family == "usb-c";
    const auto own = usbc ? usbc_offers(profile.adapter_watts)
                          : std::vector<ChargerOffer>{
                                {profile.adapter_volts, profile.adapter_watts / profile.adapter_volts}};
    for (const ChargerOffer& offer : own)
        offers.push_back({{"volts", offer.volts}, {"amps", offer.amps}});
    const auto watts = integer_text(std::lround(profile.adapter_watts));
    return {{"id", id},
            {"family", like.family},
            {"title", (usbc ? "USB-C charger, " : "Adapter, ") + watts + " W"},
            {"kind", like.kind},
            {"offers", std::move(offers)},
            {"protection", to_text(like.protection)},
            {"trip_s", like.trip_s},
            {"recover_s", like.recover_s}};
}

std::optional<Error> problem_with(const MachineProfile& profile, const Topology* base,
                                  const Chemistry* chemistry) {
    const auto wrong = [](const std::string& sentence, const std::string& field) {
        return refused(sentence, field);
    };
    if (id_from_title(profile.title).empty())
        return wrong("give the machine a name of letters or digits", "name");
    if (base == nullptr)
        return wrong("there is no kind of machine “" + profile.base + "” to build on; choose one", "like");
    if (profile.ports.empty() || profile.ports.size() > most_ports)
        return wrong("a machine has between one and " + integer_text(most_ports) + " ports", "ports");
    if (profile.ports.size() != base->ports.size() && !ports_may_vary(*base))
        return wrong("machines like “" + base->title + "” have " + integer_text(base->ports.size()) +
                         " ports; choose a kind with a chain of ports for another number",
                     "ports");
    for (const ProfilePort& port : profile.ports) {
        if (port.title.empty())
            return wrong("every port needs a name, such as “Port 1”", "ports");
    }
    if (!(profile.adapter_watts >= least_watts && profile.adapter_watts <= most_watts))
        return wrong("the charger's watts are between 10 and 240", "watts");
    const bool barrel = std::any_of(base->ports.begin(), base->ports.end(), is_barrel);
    if (barrel && !(profile.adapter_volts >= 12.0 && profile.adapter_volts <= 24.0))
        return wrong("barrel adapters of notebooks give between 12 and 24 V", "volts");
    if (profile.cells_in_series < 1 || profile.cells_in_series > most_cells)
        return wrong("a pack has between one and six cells in series", "cells");
    if (chemistry == nullptr)
        return wrong("choose what the cells are made of", "chemistry");
    for (const auto& [net, ohms] : profile.net_ohms) {
        if (base->find_net(net) == nullptr)
            return wrong("this kind of machine has no net “" + net + "”", "ohms");
        if (!(ohms > 0.0 && ohms <= 1e7))
            return wrong("known ohms are above 0 and at most 10 MΩ", "ohms of " + net);
    }
    return std::nullopt;
}

json ports_file(const MachineProfile& profile, const Topology& base, const std::set<std::string>& changed) {
    json ports = json::array();
    std::vector<const Port*> usbc;
    std::vector<const Port*> others;
    for (const Port& port : base.ports)
        (is_usbc(port) ? usbc : others).push_back(&port);
    const bool same_number = profile.ports.size() == base.ports.size();
    for (std::size_t i = 0; i < profile.ports.size(); ++i) {
        // On a chain the ports that are not USB-C come last.
        const bool other = !same_number && i + others.size() >= profile.ports.size();
        const std::size_t kept = i + others.size() - std::min(i + others.size(), profile.ports.size());
        const Port& like = same_number ? base.ports[i] : other ? *others[kept] : *usbc.front();
        const std::string number = integer_text(i + 1);
        json port{{"id", same_number ? like.id : "p" + number},
                  {"title", profile.ports[i].title},
                  {"family", like.family},
                  {"place", profile.ports[i].place},
                  {"charger", changed.count(like.family) == 0 ? like.charger : "own_" + like.family},
                  {"vbus", same_number || other ? like.vbus : "vbus" + number}};
        if (!like.controller.empty())
            port["controller"] = like.controller;
        ports.push_back(std::move(port));
    }
    return ports;
}

}  // namespace

MachineProfile profile_like(const Topology& base, const Knowledge& knowledge) {
    MachineProfile profile;
    profile.base = base.id;
    for (const Port& port : base.ports)
        profile.ports.push_back({port.title, port.place});
    const auto barrel = std::find_if(base.ports.begin(), base.ports.end(), is_barrel);
    const Port& usual = barrel == base.ports.end() ? base.ports.front() : *barrel;
    const ChargerOffer& best = charger_of(usual, base, knowledge).offers.back();
    profile.adapter_volts = best.volts;
    profile.adapter_watts = best.volts * best.amps;
    if (const Block* pack = block_of_kind(base, "battery_pack"); pack != nullptr) {
        const double volts = param_of(*pack, "open_circuit_volts", knowledge);
        double nearest = 1e9;
        for (const Chemistry& chemistry : knowledge.chemistries) {
            for (int cells = 1; cells <= most_cells; ++cells) {
                const double off = std::abs(volts - cells * chemistry.nominal_volts);
                if (off < nearest - 1e-9) {
                    nearest = off;
                    profile.cells_in_series = cells;
                    profile.chemistry = chemistry.id;
                }
            }
        }
    }
    for (const Net& net : base.nets) {
        if (net.known_ohms)
            profile.net_ohms[net.id] = *net.known_ohms;
    }
    return profile;
}

MachineProfile profile_of(const Topology& machine, const Knowledge& knowledge) {
    MachineProfile profile = profile_like(machine, knowledge);
    profile.id = machine.id;
    profile.title = machine.title;
    profile.base = knowledge.topology_files.at(machine.id).at("based_on").get<std::string>();
    return profile;
}

std::vector<std::string> built_on(const std::string& id, const Knowledge& knowledge) {
    std::vector<std::string> found;
    for (const auto& [other, file] : knowledge.topology_files) {
        // Files that were refused may build on each other in a ring.
        if (file.value("based_on", std::string()) != id || knowledge.find_topology(other) == nullptr)
            continue;
        found.push_back(other);
        for (std::string& further : built_on(other, knowledge))
            found.push_back(std::move(further));
    }
    return found;
}

bool ports_may_vary(const Topology& base) {
    std::size_t usbc = 0;
    for (const Port& port : base.ports) {
        if (!is_usbc(port))
            continue;
        ++usbc;
        const bool own = std::any_of(base.blocks.begin(), base.blocks.end(), [&](const Block& block) {
            return block.kind == "port_controller" && block.port == port.id;
        });
        if (!own || !port.controller.empty())
            return false;
    }
    return usbc >= 2;
}

std::vector<ChargerOffer> usbc_offers(double watts) {
    constexpr double usual_amps = 3.0;
    struct Rung {
        double volts;
        double up_to_watts;
    };
    std::vector<ChargerOffer> offers;
    for (const Rung& rung : {Rung{5.0, 15.0},
                             {9.0, 27.0},
                             {15.0, 45.0},
                             {20.0, 100.0},
                             {28.0, 140.0},
                             {36.0, 180.0},
                             {48.0, 240.0}}) {
        const bool last = watts <= rung.up_to_watts;
        // Above 100 W all but the last rung up to 15 V stay at 3 A, those from 20 V on give 5 A.
        const double amps = last ? watts / rung.volts : rung.volts < 20.0 ? usual_amps : 5.0;
        offers.push_back({rung.volts, amps});
        if (last)
            break;
    }
    return offers;
}

std::string id_from_title(const std::string& title) {
    std::string id;
    for (const char c : title) {
        if (std::isalnum(static_cast<unsigned char>(c)) != 0)
            id += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (!id.empty() && id.back() != '-')
            id += '-';
    }
    while (!id.empty() && id.back() == '-')
        id.pop_back();
    return id;
}

Result<std::string> write_profile(const MachineProfile& profile, const Knowledge& knowledge) {
    const Topology* base = knowledge.find_topology(profile.base);
    const auto chemistry = std::find_if(knowledge.chemistries.begin(), knowledge.chemistries.end(),
                                        [&](const Chemistry& one) { return one.id == profile.chemistry; });
    const Chemistry* cells = chemistry == knowledge.chemistries.end() ? nullptr : &*chemistry;
    if (const auto problem = problem_with(profile, base, cells))
        return *problem;

    json chargers = json::array();
    std::set<std::string> changed;  // families of inlets
    for (const Port& port : base->ports) {
        // A magnetic inlet keeps the charger of its own.
        const bool described = is_usbc(port) || is_barrel(port);
        if (described && changed.insert(port.family).second)
            chargers.push_back(
                charger_file(charger_of(port, *base, knowledge), "own_" + port.family, profile));
    }
    const double full_volts = profile.cells_in_series * cells->full_volts;
    json params;
    json net_volts;
    for (const Block& block : base->blocks) {
        if (block.kind == "battery_pack") {
            params[block.id]["open_circuit_volts"] = profile.cells_in_series * cells->nominal_volts;
            net_volts[block.pins.at("out")] = full_volts;
        } else if (block.kind == "charger_circuit") {
            params[block.id]["volts"] = full_volts + rail_above_pack_volts;
            net_volts[block.pins.at("out")] = full_volts + rail_above_pack_volts;
        }
    }
    const bool barrel = std::none_of(base->ports.begin(), base->ports.end(), is_usbc);
    constexpr double usual_volts = 20.0;  // more only where the kind of machine asks for it
    const double wanted = barrel ? profile.adapter_volts
                                 : std::min(std::max(usual_volts, base->wanted_volts),
                                            usbc_offers(profile.adapter_watts).back().volts);
    json file{
        {"format", "eager-hound.topology/1"},
        {"id", profile.id.empty() ? id_from_title(profile.title) : profile.id},
        {"based_on", profile.base},
        {"title", profile.title},
        {"about", integer_text(profile.cells_in_series) + " cells in series, " +
                      integer_text(std::lround(profile.adapter_watts)) + " W; like “" + base->title + "”."},
        {"wanted_volts", wanted},
        {"ports", ports_file(profile, *base, changed)},
        {"chargers", std::move(chargers)},
        {"params", std::move(params)},
        {"net_volts", std::move(net_volts)}};
    if (!profile.net_ohms.empty())
        file["net_ohms"] = profile.net_ohms;
    return json_text(file, 2) + "\n";
}

Result<Topology> read_profile(const std::string& text, const std::string& file, const Knowledge& knowledge) {
    const auto find = [&](const std::string& id) -> const json* {
        const auto found = knowledge.topology_files.find(id);
        return found == knowledge.topology_files.end() ? nullptr : &found->second;
    };
    auto topology = parse_topology(text, file, knowledge.kinds, knowledge.kit, find);
    if (!topology)
        return topology;
    const FittedPlan plan(knowledge, *topology);
    if (const auto misses = known_ohms_misses(plan); !misses.empty())
        return refused(
            "a sound machine cannot show these ohms here: other parts on the net rule them out; "
            "correct or leave out the value",
            file + ": ohms of " + topology->nets[static_cast<std::size_t>(misses.front())].title);
    MachineModel model(plan, {}, {});
    DcSolver solver;
    for (const Port& port : topology->ports) {
        BenchConfiguration configuration;
        configuration.port = port.id;
        if (look_at(model, configuration, solver).firmware != FirmwareMessage::charging)
            return refused(
                "with these values a machine with nothing wrong would not charge here; check the "
                "charger's volts and watts against the cells in series",
                file + ": " + port.title);
    }
    return topology;
}

std::map<std::string, std::filesystem::path> load_profiles(const std::filesystem::path& folder,
                                                           Knowledge& knowledge) {
    std::map<std::string, std::filesystem::path> taken;
    auto waiting = files_of(folder, ".json");
    // One that builds on another of the folder waits until that one is there, whatever they are called.
    for (bool more = true; more;) {
        more = false;
        std::vector<Error> problems;
        for (auto path = waiting.begin(); path != waiting.end();) {
            const std::string name = path->filename().string();
            const auto text = read_text_file(*path);
            auto topology = text ? read_profile(*text, name, knowledge) : Result<Topology>(text.error());
            if (topology && knowledge.find_topology(topology->id) != nullptr)
                topology =
                    refused("there is a kind of machine with the id “" + topology->id + "” already", name);
            if (!topology) {
                problems.push_back(topology.error());
                ++path;
                continue;
            }
            taken[topology->id] = *path;
            knowledge.topology_files[topology->id] = json::parse(*text);
            knowledge.topologies.push_back(std::move(topology).value());
            path = waiting.erase(path);
            more = true;
        }
        if (!more)
            knowledge.refused_files.insert(knowledge.refused_files.end(), problems.begin(), problems.end());
    }
    return taken;
}

SoundMachine sound_machine(const Topology& topology, const Knowledge& knowledge) {
    const FittedPlan plan(knowledge, topology);
    MachineModel model(plan, {}, {});
    DcSolver solver;
    SoundMachine sound;
    const auto rail = static_cast<std::size_t>(net_index(topology, topology.system_rail));
    for (const Port& port : topology.ports) {
        BenchConfiguration configuration;
        configuration.port = port.id;
        const PoweredView view = look_at(model, configuration, solver);
        sound.ports.push_back({port.title, view.meter.volts, view.meter.amps});
        sound.rail_volts = view.net_volts[rail];
    }
    model.configure(electrical_part(unpowered({})));
    for (std::size_t n = 0; n < topology.nets.size(); ++n)
        sound.net_ohms.push_back(model.ohms_to_ground(static_cast<int>(n), solver));
    return sound;
}

}  // namespace eh
