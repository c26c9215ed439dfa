// SPDX-License-Identifier: GPL-3.0-or-later
// How often the program was right on the shop's own jobs, and whether its percentages hold.
#pragma once

#include <QLabel>
#include <QWidget>

#include "app/models/rows_model.h"
#include "core/machine/model/knowledge.h"
#include "core/shop/own_hits.h"

class QCustomPlot;
class QTableView;

namespace eh {

class OwnHitsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit OwnHitsPanel(const Knowledge& knowledge, QWidget* parent = nullptr);

    // Works over these jobs, newest first.
    void show(const std::vector<Job>& jobs);
    [[nodiscard]] QString says() const { return says_->text(); }
    [[nodiscard]] RowsModel& wrong() { return *wrong_; }

  private:
    void draw(const OwnHits& hits);

    const Knowledge& knowledge_;
    QLabel* says_;
    QLabel* wrong_title_;
    QTableView* table_;
    RowsModel* wrong_;
    QCustomPlot* plot_;
};

}  // namespace eh
