// SPDX-License-Identifier: GPL-3.0-or-later
// Earlier jobs like the chosen one, and what fixed them.
#pragma once

#include <QLabel>
#include <QTableView>
#include <QWidget>

#include "app/models/rows_model.h"
#include "core/machine/model/knowledge.h"
#include "store/job_store.h"

namespace eh {

class SimilarPanel : public QWidget {
    Q_OBJECT
  public:
    SimilarPanel(const Knowledge& knowledge, QWidget* parent = nullptr);

    void clear();
    void show(const Job& asked, const std::vector<SimilarJob>& jobs);
    [[nodiscard]] RowsModel& rows() { return *rows_; }
    [[nodiscard]] QLabel& says() { return *says_; }

  signals:
    void jobChosen(const std::string& id);

  private:
    const Knowledge& knowledge_;
    QLabel* title_;
    QLabel* says_;
    QTableView* table_;
    RowsModel* rows_;
    std::vector<std::string> ids_;
};

}  // namespace eh
