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

// Reads a file of the directory into its place and gives back its text.
template <typename Content, typename Parse>
Result<std::string> read_into(Content& target, const std::filesystem::path& directory, const char* file,
                              Parse parse) {
    auto text = read_text_file(directory / file);
    if (!text)
        return text;
    auto content = parse(*text, file);
    if (!content)
        return content.error();
    target = std::move(content).value();
    return text;
}

}  // namespace

Result<Knowledge> load_knowledge(const std::filesystem::path& directory) {
    Knowledge knowledge;
    const auto kinds = read_into(knowledge.kinds, directory, "kinds.json", parse_kinds);
    if (!kinds)
        return kinds.error();
    const auto kit = read_into(knowledge.kit, directory, "kit.json", parse_kit);
    if (!kit)
        return kit.error();
    const auto faults = read_into(knowledge.catalogue, directory, "faults.json",
                                  [&](const std::string& text, const std::string& file) {
                                      return parse_faults(text, file, knowledge.kinds);
                                  });
    if (!faults)
        return faults.error();
    if (auto cells = read_into(knowledge.chemistries, directory, "chemistries.json", parse_chemistries);
        !cells)
        return cells.error();
    if (auto checks = read_into(knowledge.proof_checks, directory, "proof_checks.json", parse_proof_checks);
        !checks)
        return checks.error();
    if (auto dangers = read_into(knowledge.dangers, directory, "dangers.json",
                                 [&](const std::string& text, const std::string& file) {
                                     return parse_dangers(text, file, knowledge.kinds);
                                 });
        !dangers)
        return dangers.error();
    const auto signs = read_into(knowledge.signs, directory, "signs.json", parse_signs);
    if (!signs)
        return signs.error();
    const auto variety = read_into(knowledge.variety, directory / "designs", "variety.json",
                                   [&](const std::string& text, const std::string& file) {
                                       return parse_variety(text, file, knowledge.kinds);
                                   });
    if (!variety)
        return variety.error();
    knowledge.fingerprint = fingerprint(*kinds + *kit + *faults + *signs + *variety);

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
