// SPDX-License-Identifier: GPL-3.0-or-later
// A kind of machine as a technician describes it: like one that is known, with its own ports, charger,
// battery and known resistances. What comes of it is a topology file that builds on the known one.
#pragma once

#include <filesystem>
#include <map>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/machine/model/knowledge.h"

namespace eh {

struct ProfilePort {
    std::string title;  // "Port 1"
    std::string place;  // "left, rear"; may be empty
};

struct MachineProfile {
    std::string id;    // letters, digits and hyphens
    std::string base;  // id of the topology it is like
    std::string title;
    std::vector<ProfilePort> ports;  // in the order of the base's; more or fewer only on a chain
    double adapter_volts = 0.0;      // of a barrel adapter; not used where all ports are USB-C
    double adapter_watts = 0.0;      // of the usual charger
    int cells_in_series = 0;
    std::string chemistry;                   // id in chemistries.json
    std::map<std::string, double> net_ohms;  // known on sound machines: net -> ohms to ground
};

// The profile that the base itself is, to start from. Requires a topology of the knowledge.
MachineProfile profile_like(const Topology& base, const Knowledge& knowledge);

// The profile that a described machine's file holds, to change it. Requires a topology of the knowledge that
// builds on another.
MachineProfile profile_of(const Topology& machine, const Knowledge& knowledge);

// Ids of the topologies whose files build on this one, also by way of others.
std::vector<std::string> built_on(const std::string& id, const Knowledge& knowledge);

// Whether machines like this may have another number of USB-C ports: each of them brings a controller of its
// own, and all are on one chain.
bool ports_may_vary(const Topology& base);

// What a USB-C charger of so many watts offers (USB Power Delivery 3, power rules: 5, 9, 15 and 20 V, of
// which a source gives those that its watts call for; from memory). Requires watts above 0.
std::vector<ChargerOffer> usbc_offers(double watts);

// Letters, digits and hyphens of a title, small: an id.
std::string id_from_title(const std::string& title);

// The topology file of a profile (docs/formats.md), as text. Refuses, with the field in the place, a profile
// without title, on an unknown base or chemistry, with more cells, volts, watts or ports than can be, or with
// resistances at nets that the base has not.
Result<std::string> write_profile(const MachineProfile& profile, const Knowledge& knowledge);

// Reads the text of a profile and says whether a machine like that can work: refuses what parse_topology
// refuses, machines that would not charge at one of their ports with nothing wrong, and known resistances
// that the other parts on the net rule out. `raw` gives the files that it may be based on.
Result<Topology> read_profile(const std::string& text, const std::string& file, const Knowledge& knowledge);

// Adds the profiles of a folder (*.json) to the knowledge, those that build on each other included; those
// that cannot be used go to its refused files. A folder that is not there holds none. The files by the ids in
// them.
std::map<std::string, std::filesystem::path> load_profiles(const std::filesystem::path& folder,
                                                           Knowledge& knowledge);

// What instruments show on a machine of typical parts with nothing wrong, battery in.
struct SoundPort {
    std::string title;
    double volts = 0.0;  // at the plug
    double amps = 0.0;
};
struct SoundMachine {
    std::vector<SoundPort> ports;
    double rail_volts = 0.0;       // of the main rail
    std::vector<double> net_ohms;  // by net of the topology, off and without battery; infinite: open
};
// Requires a topology of this knowledge (or one that read_profile made of it).
SoundMachine sound_machine(const Topology& topology, const Knowledge& knowledge);

}  // namespace eh
