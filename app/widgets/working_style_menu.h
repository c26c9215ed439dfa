// SPDX-License-Identifier: GPL-3.0-or-later
// How next acts are chosen: the instruments of the bench, and what the technician likes to begin with.
#pragma once

#include <QMenu>
#include <functional>

#include "core/planning/next_act.h"

namespace eh {

class WorkingStyleMenu : public QMenu {
    Q_OBJECT
  public:
    WorkingStyleMenu(const NextOptions& options, QWidget* parent = nullptr);

    [[nodiscard]] const NextOptions& options() const { return options_; }

  signals:
    void changed(const NextOptions& options);

  private:
    void addInstrument(ReadingKind kind, const QString& title);
    // A line that can be ticked; `choose` is told, then changed() follows.
    QAction* addChoice(const QString& title, bool chosen, const std::function<void(bool)>& choose);
    void addSchool(School school, const QString& title, class QActionGroup* group);

    NextOptions options_;
};

}  // namespace eh
