// SPDX-License-Identifier: GPL-3.0-or-later
// Everything the program knows about machines. load_knowledge.h reads it from data files.
#pragma once

#include <list>
#include <map>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/machine/model/block_kind.h"
#include "core/machine/model/chemistry.h"
#include "core/machine/model/danger.h"
#include "core/machine/model/design_variety.h"
#include "core/machine/model/fault.h"
#include "core/machine/model/kit.h"
#include "core/machine/model/machine_sign.h"
#include "core/machine/model/proof_check.h"
#include "core/machine/model/topology.h"
#include "core/machine/model/topology_template.h"

namespace eh {

struct Knowledge {
    std::vector<BlockKind> kinds;
    FaultCatalogue catalogue;
    Kit kit;
    std::vector<Chemistry> chemistries;
    std::vector<ProofCheck> proof_checks;
    std::vector<Danger> dangers;
    SignTable signs{};
    DesignVariety variety;
    // One more or one less moves none of the others.
    std::list<Topology> topologies;
    std::map<std::string, nlohmann::json> topology_files;  // as they were read, by id
    // Files that were refused, with the reason; the rest is loaded all the same.
    std::vector<Error> refused_files;
    // Of kinds, kit, faults, signs and designs/variety.json as they were read; empty where it was not read
    // from files.
    std::string fingerprint;

    // nullptr where there is none with this id.
    [[nodiscard]] const BlockKind* find_kind(const std::string& id) const;
    [[nodiscard]] const Topology* find_topology(const std::string& id) const;
};

// Title of what a fault befalls, for people: "Surge protector of port 2 shorted". Blocks outside the machine
// (customer's charger and lead) included. Requires a known fault and block.
std::string fault_title(const Knowledge& knowledge, const Topology& topology, const FaultInstance& fault);

}  // namespace eh
