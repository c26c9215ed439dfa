// SPDX-License-Identifier: GPL-3.0-or-later
// The ranked suspects; opening one shows why.
#pragma once

#include <QTreeView>

#include "app/models/suspects_model.h"

namespace eh {

class SuspectsView : public QTreeView {
    Q_OBJECT
  public:
    explicit SuspectsView(QWidget* parent = nullptr);

    void show(const Answer& answer);
    void clear();
    // Opens the part, one that is hardly suspected too, to show why not. False when the catalogue knows no
    // fault of it.
    bool explainPart(const Answer& answer, const std::string& block);
    // Selects and opens the part; returns false when it is not among those shown.
    bool openPart(const std::string& block);
    [[nodiscard]] const SuspectsModel& suspects() const { return *model_; }

  signals:
    void partChosen(const std::string& block);

  private:
    SuspectsModel* model_;
};

}  // namespace eh
