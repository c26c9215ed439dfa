// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/knowledge/load_knowledge.h"

#include <cstdlib>

#include "core/base/files.h"
#include "core/base/fingerprint.h"

namespace eh {
namespace {

// Reads every topology of a folder; one that cannot be used goes to the refused files.
void read_topologies(const std::filesystem::path& folder, Knowledge& knowledge) {
    const auto files = files_of(folder, ".json");
    // Files may build on one another, so all are known before the first is read.
    auto& raw = knowledge.topology_files;
    for (const auto& path : files) {
        const auto text = read_text_file(path);
        nlohmann::json content = nlohmann::json::parse(text ? *text : std::string(), nullptr, false);
        if (content.is_object() && content.contains("id") && content["id"].is_string()) {
            const auto id = content["id"].get<std::string>();
            raw.emplace(id, std::move(content));
        }
    }
    const auto find = [&raw](const std::string& id) -> const nlohmann::json* {
        const auto found = raw.find(id);
        return found == raw.end() ? nullptr : &found->second;
    };
    for (const auto& path : files) {
        const std::string name = path.filename().string();
        const auto text = read_text_file(path);
        auto topology = text ? parse_topology(*text, name, knowledge.kinds, knowledge.kit, find)
                             : Result<Topology>(text.error());
        if (!topology)
            knowledge.refused_files.push_back(topology.error());
        else if (knowledge.find_topology(topology->id) != nullptr)
            knowledge.refused_files.push_back(
                refused("another file has the id “" + topology->id + "” already; choose another", name));
        else
            knowledge.topologies.push_back(*topology);
    }
    knowledge.topologies.sort([](const Topology& a, const Topology& b) { return a.order < b.order; });
}

}  // namespace

Result<Knowledge> load_knowledge(const std::filesystem::path& directory) {
    Knowledge knowledge;
    const auto text_of = [&](const char* name) { return read_text_file(directory / name); };
    const auto kinds_text = text_of("kinds.json");
    if (!kinds_text)
        return kinds_text.error();
    auto kinds = parse_kinds(*kinds_text, "kinds.json");
    if (!kinds)
        return kinds.error();
    knowledge.kinds = *kinds;
    const auto kit_text = text_of("kit.json");
    if (!kit_text)
        return kit_text.error();
    auto kit = parse_kit(*kit_text, "kit.json");
    if (!kit)
        return kit.error();
    knowledge.kit = *kit;
    const auto faults_text = text_of("faults.json");
    if (!faults_text)
        return faults_text.error();
    auto faults = parse_faults(*faults_text, "faults.json", knowledge.kinds);
    if (!faults)
        return faults.error();
    knowledge.catalogue = *faults;
    const auto chemistries_text = text_of("chemistries.json");
    if (!chemistries_text)
        return chemistries_text.error();
    auto chemistries = parse_chemistries(*chemistries_text, "chemistries.json");
    if (!chemistries)
        return chemistries.error();
    knowledge.chemistries = *chemistries;
    const auto checks_text = text_of("proof_checks.json");
    if (!checks_text)
        return checks_text.error();
    auto checks = parse_proof_checks(*checks_text, "proof_checks.json");
    if (!checks)
        return checks.error();
    knowledge.proof_checks = *checks;
    knowledge.fingerprint = fingerprint(*kinds_text + *kit_text + *faults_text);

    read_topologies(directory / "topologies", knowledge);
    if (knowledge.topologies.empty())
        return Error{ErrorKind::not_found, "no usable topology was found; the installation is incomplete",
                     (directory / "topologies").string()};
    return knowledge;
}

std::filesystem::path default_data_directory() {
    // NOLINTNEXTLINE(concurrency-mt-unsafe): nothing of ours sets the environment
    if (const char* chosen = std::getenv("EAGER_HOUND_DATA"); chosen != nullptr && *chosen != '\0')
        return chosen;
    std::error_code problem;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", problem);
    if (!problem) {
        auto installed = program.parent_path().parent_path() / "share" / "eager-hound" / "data";
        if (std::filesystem::exists(installed / "kinds.json", problem))
            return installed;
    }
    return EH_SOURCE_DATA_DIR;
}

}  // namespace eh
