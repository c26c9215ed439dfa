// Everything the program knows about machines, read from data files.
#pragma once

#include <filesystem>
#include <list>
#include <map>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/machine/block_kind.h"
#include "core/machine/chemistry.h"
#include "core/machine/fault.h"
#include "core/machine/kit.h"
#include "core/machine/proof_check.h"
#include "core/machine/topology.h"
#include "core/machine/topology_template.h"

namespace eh {

struct Knowledge {
    std::vector<BlockKind> kinds;
    FaultCatalogue catalogue;
    Kit kit;
    std::vector<Chemistry> chemistries;
    std::vector<ProofCheck> proof_checks;
    // One more or one less moves none of the others.
    std::list<Topology> topologies;
    std::map<std::string, nlohmann::json> topology_files;  // as they were read, by id
    // Files that were refused, with the reason; the rest is loaded all the same.
    std::vector<Error> refused_files;
    // Of kinds.json, kit.json and faults.json as they were read; empty where it was not read from files.
    std::string fingerprint;

    [[nodiscard]] const BlockKind* find_kind(const std::string& id) const;
    [[nodiscard]] const Topology* find_topology(const std::string& id) const;
};

// Each parser reads the text of one file; `file` names it in errors ("faults.json: faults[3].rate: ...").
Result<std::vector<BlockKind>> parse_kinds(const std::string& text, const std::string& file);
Result<std::vector<Chemistry>> parse_chemistries(const std::string& text, const std::string& file);
Result<Kit> parse_kit(const std::string& text, const std::string& file);
Result<FaultCatalogue> parse_faults(const std::string& text, const std::string& file,
                                    const std::vector<BlockKind>& kinds);
// `find` gives the raw file of a topology that this one may be based on.
Result<Topology> parse_topology(
    const std::string& text, const std::string& file, const std::vector<BlockKind>& kinds, const Kit& kit,
    const FindTopologyFile& find = [](const std::string&) { return nullptr; });

// Reads kinds.json, kit.json, faults.json, chemistries.json, proof_checks.json and topologies/*.json of a
// data directory. Fails only when one of the first five is unusable; a refused topology is listed in
// `refused_files`.
Result<Knowledge> load_knowledge(const std::filesystem::path& data_directory);

// The data directory: $EAGER_HOUND_DATA, else ../share/eager-hound/data beside the program, else the source
// tree it was built from.
std::filesystem::path default_data_directory();

// Title of what a fault befalls, for people: "Surge protector of port 2 shorted". Blocks outside the machine
// (customer's charger and lead) included. Requires a known fault and block.
std::string fault_title(const Knowledge& knowledge, const Topology& topology, const FaultInstance& fault);

}  // namespace eh
