// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen of the machine's inlets, closely: flaw by flaw, and on which contact.
#pragma once

#include <QMenu>

#include "core/machine/model/knowledge.h"
#include "core/readings/reading.h"

namespace eh {

class InletMenu : public QMenu {
    Q_OBJECT

  public:
    explicit InletMenu(QWidget* parent = nullptr);

    // The inlets of this machine; nullptr: no machine is known, and nothing can be chosen.
    void showMachine(const Knowledge& knowledge, const Topology* machine);

  signals:
    void seen(const eh::ReadingValue& value);

  private:
    void addInlet(const Block& inlet, const BlockKind& kind);
    void addFlaw(QMenu& menu, const Block& inlet, const BlockKind& kind, const LookReading& look);
    void addLook(QMenu& menu, const QString& text, const LookReading& look);

    std::string machine_;  // whose inlets it holds
};

}  // namespace eh
