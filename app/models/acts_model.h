// SPDX-License-Identifier: GPL-3.0-or-later
// The acts of a job as a table.
#pragma once

#include <QAbstractTableModel>

#include "core/job/job.h"
#include "core/machine/model/topology.h"

namespace eh {

class ActsModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column {
        PartColumn,
        WorkColumn,
        OriginColumn,
        MinutesColumn,
        CostColumn,
        NoteColumn,
        WhenColumn,
        ColumnCount
    };
    using QAbstractTableModel::QAbstractTableModel;

    // The catalogue outlives the model.
    void show(const std::vector<Act>& acts, const Topology* topology, const FaultCatalogue& catalogue);
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    std::vector<Act> acts_;
    const Topology* topology_ = nullptr;
    const FaultCatalogue* catalogue_ = nullptr;
};

}  // namespace eh
