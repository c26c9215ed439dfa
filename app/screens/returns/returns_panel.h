// SPDX-License-Identifier: GPL-3.0-or-later
// What comes back: how long repairs hold, by group, with bands and a test between two; minutes of work.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QTableView>
#include <QWidget>

#include "app/models/rows_model.h"
#include "core/machine/model/knowledge.h"
#include "core/rework/rework_book.h"
#include "core/shop/returns.h"

class QCustomPlot;

namespace eh {

class ReturnsPanel : public QWidget {
    Q_OBJECT
  public:
    ReturnsPanel(const Knowledge& knowledge, const ReworkBook& rework, QWidget* parent = nullptr);

    // Works over these jobs.
    void show(const std::vector<Job>& jobs, std::int64_t now_ms);
    [[nodiscard]] QComboBox& grouping() { return *grouping_; }
    [[nodiscard]] RowsModel& groups() { return *rows_; }
    [[nodiscard]] QString comparison() const { return comparison_->text(); }

  private:
    void regroup();
    void compare();
    void draw(const std::vector<int>& shown);

    const Knowledge& knowledge_;
    const ReworkBook& rework_;
    std::vector<HandedRepair> repairs_;
    std::vector<ReturnGroup> groups_;
    QComboBox* grouping_;
    QTableView* table_;
    RowsModel* rows_;
    QLabel* comparison_;
    QCustomPlot* plot_;
    QLabel* minutes_;
};

}  // namespace eh
