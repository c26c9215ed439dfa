// SPDX-License-Identifier: GPL-3.0-or-later
// Topology files may say things once for all ports, and build on one another.
//
// "based_on": the id of another file, whose members are taken where this one has none of its own. "params",
// "net_volts" and "net_ohms" change single values of the base; "add_nets", "add_blocks" and "add_per_port"
// lengthen its lists; "without" leaves blocks and nets out, after the ports are written out, and with nets
// the blocks that have no pin elsewhere. "per_port": nets
// and blocks that every port (of a family) has, with {n} (1, 2, ...), {port} (id), {title} and {name} (title
// with a small first letter) in their texts. A link target "others:pc{n}" means those of all other ports, and
// in shared blocks "each:pc{n}" those of all.
//
// Works on JSON, before anything is checked; what comes out is an ordinary topology (docs/formats.md).
#pragma once

#include <functional>
#include <nlohmann/json.hpp>
#include <string>

namespace eh {

// The raw file of a topology by id, or nullptr.
using FindTopologyFile = std::function<const nlohmann::json*(const std::string& id)>;

// The topology written out. Throws JsonRefused, with `file` in the place, for a base that is not there or is
// based on itself; members of a wrong shape are left for the reader to refuse.
nlohmann::json expand_topology(const nlohmann::json& source, const std::string& file,
                               const FindTopologyFile& find);

}  // namespace eh
