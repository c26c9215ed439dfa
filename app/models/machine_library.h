// The shop's own kinds of machine: files in a folder, described in the window, part of what the program
// knows.
#pragma once

#include <QObject>
#include <filesystem>

#include "core/machine/machine_profile.h"

namespace eh {

class MachineLibrary : public QObject {
    Q_OBJECT
  public:
    // Adds the machines of the folder to the knowledge, which must outlive the library. Files that cannot be
    // used are in its refused files.
    MachineLibrary(Knowledge& knowledge, std::filesystem::path folder, QObject* parent = nullptr);

    [[nodiscard]] const Knowledge& knowledge() const { return knowledge_; }

    // The machine that a description makes, without keeping it.
    [[nodiscard]] Result<Topology> tried(const MachineProfile& profile) const;
    // Writes the description to a file and adds the machine. Refuses one whose name is taken.
    Outcome add(const MachineProfile& profile);

  signals:
    void added(const QString& id);

  private:
    Knowledge& knowledge_;
    std::filesystem::path folder_;
};

}  // namespace eh
