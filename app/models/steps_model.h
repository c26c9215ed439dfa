// SPDX-License-Identifier: GPL-3.0-or-later
// The steps of a repair as a table: phase and step, ticked when done.
#pragma once

#include <QAbstractTableModel>
#include <set>
#include <vector>

#include "core/rework/step_list.h"

namespace eh {

class StepsModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column { PhaseColumn, StepColumn, ColumnCount };
    using QAbstractTableModel::QAbstractTableModel;

    void show(std::vector<RepairStep> steps, std::set<std::string> done);
    [[nodiscard]] const RepairStep* step(int row) const;
    [[nodiscard]] bool isDone(int row) const;
    // The first row that is not done; -1 when all are.
    [[nodiscard]] int nextRow() const;

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    std::vector<RepairStep> steps_;
    std::set<std::string> done_;
};

}  // namespace eh
