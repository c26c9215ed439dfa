// SPDX-License-Identifier: GPL-3.0-or-later
// The shop's own kinds of machine: files in a folder, described in the window, part of what the program
// knows.
#pragma once

#include <QObject>
#include <filesystem>
#include <map>

#include "core/machine/knowledge/machine_profile.h"

namespace eh {

class MachineLibrary : public QObject {
    Q_OBJECT
  public:
    // Adds the machines of the folder to the knowledge, which must outlive the library. Files that cannot be
    // used are in its refused files.
    MachineLibrary(Knowledge& knowledge, std::filesystem::path folder, QObject* parent = nullptr);

    [[nodiscard]] const Knowledge& knowledge() const { return knowledge_; }
    // Whether the shop described it itself, so that it may be changed and deleted.
    [[nodiscard]] bool isOwn(const std::string& id) const { return files_.count(id) != 0; }

    // The machine that a description makes, without keeping it.
    [[nodiscard]] Result<Topology> tried(const MachineProfile& profile) const;
    // Writes the description to a file and adds the machine. Refuses one whose name is taken.
    Outcome add(const MachineProfile& profile);
    // Takes in the file of a machine that another bench described.
    Outcome addFile(const std::filesystem::path& file);
    // Puts a description in the place of the one with its id, and reads again what builds on it. Refuses
    // another number of ports, since jobs speak of them, and what a machine that builds on this one could not
    // work with.
    Outcome change(const MachineProfile& profile);
    // Deletes a machine of the shop's own, unless another builds on it. Whether jobs need it is the caller's
    // to know.
    Outcome remove(const std::string& id);

  signals:
    void added(const QString& id);
    void changed(const QString& id);
    void removed(const QString& id);

  private:
    Outcome take(const std::string& text, Result<Topology> topology);

    Knowledge& knowledge_;
    std::filesystem::path folder_;
    std::map<std::string, std::filesystem::path> files_;  // by id of the machine
    std::list<Topology> removed_;  // kept until the end: what is on the screen may still speak of them
};

}  // namespace eh
