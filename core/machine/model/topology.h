// SPDX-License-Identifier: GPL-3.0-or-later
// A topology: ports, nets and blocks of one way to build the charging path of a notebook (data/topologies).
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/machine/model/block_kind.h"
#include "core/machine/model/kit.h"

namespace eh {

struct Port {
    std::string id;
    std::string title;
    std::string family;      // "usb-c" or "barrel": decides which charger and lead fit
    std::string place;       // where on the machine
    std::string charger;     // id in the kit of the usual charger
    std::string vbus;        // net behind the inlet
    std::string controller;  // block that negotiates for it; empty: the controller that belongs to the port
};

struct Net {
    std::string id;
    std::string title;
    std::vector<std::string> names;    // further names it may be typed by
    std::string port;                  // port it belongs to, or empty
    double volts = 0.0;                // when everything works
    std::optional<double> known_ohms;  // to ground, measured on sound machines of this kind
    std::string stage;  // place on the charge path: inlet, controller, switch, charger, rail, battery
};

struct Block {
    std::string id;
    std::string kind;
    std::string title;
    std::string port;                         // port it belongs to, or empty: shared
    std::map<std::string, std::string> pins;  // pin -> net; "nc" leaves a pin open
    std::map<std::string, std::vector<std::string>> links;
    std::map<std::string, double> params;
    std::vector<Need> charge_needs;  // packs: what the machine checks before it charges (nets)
};

struct Topology {
    std::string id;
    std::string title;
    std::string about;
    double order = 1000.0;  // place in lists, smaller first
    // Of machines with the same inlets, how many are built like this, up to a factor of all; 0: one that is
    // known by its name, and never guessed.
    double share = 0.0;
    double wanted_volts = 20.0;  // contract the machine asks for
    std::string system_rail;     // net of the main rail
    std::vector<Port> ports;
    std::vector<ChargerSpec> chargers;  // that come with this kind of machine, beside those of the kit
    std::vector<Net> nets;
    std::vector<Block> blocks;
    std::string fingerprint;  // of its file, what it is based on written out

    // nullptr where there is none with this id.
    [[nodiscard]] const Port* find_port(const std::string& id) const;
    [[nodiscard]] const Net* find_net(const std::string& id) const;
    [[nodiscard]] const Block* find_block(const std::string& id) const;
};

// The charger of that id, of the topology or of the kit; nullptr where neither has it.
const ChargerSpec* find_charger(const Kit& kit, const Topology& topology, const std::string& id);

}  // namespace eh
