// SPDX-License-Identifier: GPL-3.0-or-later
// The list of proof steps as a table: what must be shown, its state, the reading that decided it, and why.
#pragma once

#include <QAbstractTableModel>

#include "core/job/job.h"
#include "core/machine/model/topology.h"

namespace eh {

class ProofModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column { StepColumn, StateColumn, ReadingColumn, ReasonColumn, ColumnCount };
    using QAbstractTableModel::QAbstractTableModel;

    void show(const Job& job, const Topology* topology);
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    Job job_;
    const Topology* topology_ = nullptr;
};

}  // namespace eh
