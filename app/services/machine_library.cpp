// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/services/machine_library.h"

#include <QFile>
#include <QSaveFile>
#include <algorithm>
#include <nlohmann/json.hpp>

#include "app/format/text.h"
#include "core/base/files.h"
#include "core/base/json_text.h"

namespace eh {
namespace {

Outcome write_machine(const std::filesystem::path& path, const std::string& text) {
    std::error_code problem;
    std::filesystem::create_directories(path.parent_path(), problem);
    QSaveFile file(format::qt(path.string()));
    if (!file.open(QIODevice::WriteOnly) || file.write(text.data(), static_cast<qint64>(text.size())) < 0 ||
        !file.commit())
        return Error{ErrorKind::unavailable,
                     "the machine cannot be written; check the folder's rights and room", path.string()};
    return Done{};
}

}  // namespace

MachineLibrary::MachineLibrary(Knowledge& knowledge, std::filesystem::path folder, QObject* parent)
    : QObject(parent),
      knowledge_(knowledge),
      folder_(std::move(folder)),
      files_(load_profiles(folder_, knowledge_)) {}

Result<Topology> MachineLibrary::tried(const MachineProfile& profile) const {
    const auto text = write_profile(profile, knowledge_);
    return text ? read_profile(*text, profile.title, knowledge_) : Result<Topology>(text.error());
}

Outcome MachineLibrary::add(const MachineProfile& profile) {
    const auto text = write_profile(profile, knowledge_);
    if (!text)
        return text.error();
    return take(*text, read_profile(*text, profile.title, knowledge_));
}

Outcome MachineLibrary::addFile(const std::filesystem::path& file) {
    const auto text = read_text_file(file);
    if (!text)
        return text.error();
    return take(*text, read_profile(*text, file.filename().string(), knowledge_));
}

Outcome MachineLibrary::take(const std::string& text, Result<Topology> topology) {
    if (!topology)
        return topology.error();
    if (knowledge_.find_topology(topology->id) != nullptr)
        return refused("there is a kind of machine of that name already; choose another name", "name");
    const std::string id = topology->id;
    const auto path = inside(folder_, TopologyId::made(id), ".json");
    if (auto written = write_machine(path, text); !written)
        return written;
    files_[id] = path;
    knowledge_.topology_files[id] = nlohmann::json::parse(text);
    knowledge_.topologies.push_back(std::move(topology).value());
    emit added(format::qt(id));
    return Done{};
}

Outcome MachineLibrary::change(const MachineProfile& profile) {
    Q_ASSERT(isOwn(profile.id));
    const auto text = write_profile(profile, knowledge_);
    if (!text)
        return text.error();
    auto machine = read_profile(*text, profile.title, knowledge_);
    if (!machine)
        return machine.error();
    if (machine->ports.size() != knowledge_.find_topology(profile.id)->ports.size())
        return refused("jobs speak of its ports; describe another kind for a machine with more or fewer",
                       "ports");

    std::vector<Topology> anew{std::move(machine).value()};
    nlohmann::json& file = knowledge_.topology_files.at(profile.id);
    const nlohmann::json before = std::exchange(file, nlohmann::json::parse(*text));
    for (const std::string& id : built_on(profile.id, knowledge_)) {
        auto again = read_profile(json_text(knowledge_.topology_files.at(id)), id, knowledge_);
        if (!again) {
            file = before;
            return refused("“" + knowledge_.find_topology(id)->title +
                               "” builds on it and would not work: " + again.error().message,
                           again.error().place);
        }
        anew.push_back(std::move(again).value());
    }
    if (auto written = write_machine(files_.at(profile.id), *text); !written) {
        file = before;
        return written;
    }
    for (Topology& topology : anew) {
        const QString id = format::qt(topology.id);
        *std::find_if(knowledge_.topologies.begin(), knowledge_.topologies.end(),
                      [&](const Topology& known) { return known.id == topology.id; }) = std::move(topology);
        emit changed(id);
    }
    return Done{};
}

Outcome MachineLibrary::remove(const std::string& id) {
    Q_ASSERT(isOwn(id));
    if (const auto others = built_on(id, knowledge_); !others.empty())
        return refused(
            "“" + knowledge_.find_topology(others.front())->title + "” builds on it; delete that one first",
            knowledge_.find_topology(id)->title);
    const auto path = files_.at(id);
    if (!QFile::remove(format::qt(path.string())))
        return Error{ErrorKind::unavailable,
                     "the machine's file cannot be deleted; check the folder's rights", path.string()};
    const auto machine = std::find_if(knowledge_.topologies.begin(), knowledge_.topologies.end(),
                                      [&](const Topology& known) { return known.id == id; });
    removed_.splice(removed_.end(), knowledge_.topologies, machine);
    knowledge_.topology_files.erase(id);
    files_.erase(id);
    emit removed(format::qt(id));
    return Done{};
}

}  // namespace eh
