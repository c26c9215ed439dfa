// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine shows, and the board looked over without a finding, with one key each: a button and its
// menu beside the quick line.
#pragma once

#include <QToolButton>

#include "app/screens/bench/inlet_menu.h"
#include "core/readings/reading.h"

namespace eh {

class SignsButton : public QToolButton {
    Q_OBJECT
  public:
    explicit SignsButton(QWidget* parent = nullptr);
    // Whose inlets can be looked at; nullptr: no machine is known.
    void showMachine(const Knowledge& knowledge, const Topology* machine);

  signals:
    void seen(const eh::ReadingValue& value);
    // The technician wants to type what the settings page says.
    void typesPage();

  private:
    void add(QChar key, const QString& text, const ReadingValue& value);

    InletMenu* inlets_;
};

}  // namespace eh
