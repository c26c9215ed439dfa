#include "app/models/machine_library.h"

#include <QSaveFile>
#include <nlohmann/json.hpp>

#include "app/format/text.h"

namespace eh {

MachineLibrary::MachineLibrary(Knowledge& knowledge, std::filesystem::path folder, QObject* parent)
    : QObject(parent), knowledge_(knowledge), folder_(std::move(folder)) {
    load_profiles(folder_, knowledge_);
}

Result<Topology> MachineLibrary::tried(const MachineProfile& profile) const {
    const auto text = write_profile(profile, knowledge_);
    return text ? read_profile(*text, profile.title, knowledge_) : Result<Topology>(text.error());
}

Outcome MachineLibrary::add(const MachineProfile& profile) {
    const auto text = write_profile(profile, knowledge_);
    if (!text)
        return text.error();
    auto topology = read_profile(*text, profile.title, knowledge_);
    if (!topology)
        return topology.error();
    if (knowledge_.find_topology(topology->id) != nullptr)
        return refused("there is a kind of machine of that name already; choose another name", "name");
    std::error_code problem;
    std::filesystem::create_directories(folder_, problem);
    QSaveFile file(format::qt((folder_ / (topology->id + ".json")).string()));
    if (!file.open(QIODevice::WriteOnly) || file.write(text->data(), static_cast<qint64>(text->size())) < 0 ||
        !file.commit())
        return Error{ErrorKind::unavailable,
                     "the machine cannot be written; check the folder's rights and room", folder_.string()};
    const QString id = format::qt(topology->id);
    knowledge_.topology_files[topology->id] = nlohmann::json::parse(*text);
    knowledge_.topologies.push_back(std::move(topology).value());
    emit added(id);
    return Done{};
}

}  // namespace eh
