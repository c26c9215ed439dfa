// SPDX-License-Identifier: GPL-3.0-or-later
// A fact of the intake: whether it holds, and where on the machine, if that is known.
#pragma once

#include <QCheckBox>
#include <QMenu>
#include <QToolButton>
#include <QWidget>

#include "core/machine/model/fault.h"
#include "core/machine/model/topology.h"

namespace eh {

class FactBox : public QWidget {
    Q_OBJECT

  public:
    FactBox(const IntakeFact& fact, QWidget* parent);

    // What the job says of it. `text` is the title with what was answered; `machine`, nullptr where none is
    // known yet, tells which places there are.
    void show(bool holds, const QString& text, const std::vector<std::string>& places,
              const Topology* machine);

  signals:
    void said(bool holds);
    // The ports where it holds, and `board_place`; none: nobody knows.
    void placed(const QStringList& places);

  private:
    void makePlaces(const Topology& machine);
    void showPlaces(const std::vector<std::string>& places);

    bool local_;
    QCheckBox* box_;
    QToolButton* where_;
    QMenu* places_;
    std::string machine_;  // whose places it holds
};

}  // namespace eh
