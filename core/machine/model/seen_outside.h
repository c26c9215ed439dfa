// SPDX-License-Identifier: GPL-3.0-or-later
// What a machine shows without being opened, and the kinds of machine that look like that.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/machine/model/knowledge.h"

namespace eh {

// The inlet beside USB-C ports.
enum class OtherInlet { any, none, round_jack, magnetic };

struct SeenOutside {
    std::optional<int> usbc_ports;              // not given: not looked at
    OtherInlet other = OtherInlet::any;         // any: not looked at
    std::optional<double> charger_label_volts;  // the highest on the label of its charger

    friend bool operator==(const SeenOutside&, const SeenOutside&) = default;
};

// What is seen of a machine of this kind; the label is left out.
SeenOutside seen_of(const Knowledge& knowledge, const Topology& topology);

// The kinds that look like that, in the order of the knowledge. A label fits a kind with a charger of its own
// whose highest volts are within a twentieth of it.
std::vector<const Topology*> kinds_seen_as(const Knowledge& knowledge, const SeenOutside& seen);

// Of these kinds the one that is met most often, where all have the same inlets: what to begin with as long
// as nobody has looked inside. nullptr where inlets differ, or none of them is ever guessed
// (Topology::share).
const Topology* likeliest_of(const Knowledge& knowledge, const std::vector<const Topology*>& kinds);

// How many inlets of each look: jacks that take the same plug look the same, whatever their ID line does.
std::map<std::string, int> inlets_of(const Knowledge& knowledge, const Topology& topology);

// Parts of a kind that not all of the others have: no part of that kind at that port there, or fewer of them.
std::vector<std::string> parts_not_in_all(const Topology& topology,
                                          const std::vector<const Topology*>& others);

}  // namespace eh
