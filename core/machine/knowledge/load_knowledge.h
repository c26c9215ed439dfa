// SPDX-License-Identifier: GPL-3.0-or-later
// The data files into what the program knows about machines.
#pragma once

#include <filesystem>

#include "core/machine/model/knowledge.h"

namespace eh {

// Each parser reads the text of one file; `file` names it in errors ("faults.json: faults[3].rate: ...").
Result<std::vector<BlockKind>> parse_kinds(const std::string& text, const std::string& file);
Result<std::vector<Chemistry>> parse_chemistries(const std::string& text, const std::string& file);
Result<Kit> parse_kit(const std::string& text, const std::string& file);
Result<FaultCatalogue> parse_faults(const std::string& text, const std::string& file,
                                    const std::vector<BlockKind>& kinds);
// Spreads of the nets at pins of known kinds; others, and empty or negative spreads, are refused.
Result<DesignVariety> parse_variety(const std::string& text, const std::string& file,
                                    const std::vector<BlockKind>& kinds);
// Dangers at parts of known kinds; others, and ids that stand twice, are refused.
Result<std::vector<Danger>> parse_dangers(const std::string& text, const std::string& file,
                                          const std::vector<BlockKind>& kinds);
// Shares of signs that do not add up to 1 are refused, and states or signs that are missing.
Result<SignTable> parse_signs(const std::string& text, const std::string& file);
// `find` gives the raw file of a topology that this one may be based on.
Result<Topology> parse_topology(
    const std::string& text, const std::string& file, const std::vector<BlockKind>& kinds, const Kit& kit,
    const FindTopologyFile& find = [](const std::string&) { return nullptr; });

// Reads kinds.json, kit.json, faults.json, chemistries.json, proof_checks.json, dangers.json, signs.json,
// designs/variety.json and topologies/*.json of a data directory. Fails only when one of the first eight is
// unusable; a refused topology is listed in `refused_files`.
Result<Knowledge> load_knowledge(const std::filesystem::path& data_directory);

// The data directory: $EAGER_HOUND_DATA, else ../share/eager-hound/data beside the program, else the source
// tree it was built from.
std::filesystem::path default_data_directory();

}  // namespace eh
