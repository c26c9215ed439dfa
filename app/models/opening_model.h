// SPDX-License-Identifier: GPL-3.0-or-later
// What came out while opening, as a table: how much of it is back.
#pragma once

#include <QAbstractTableModel>
#include <vector>

#include "core/job/rework_record.h"

namespace eh {

class OpeningModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column { WhatColumn, LengthColumn, BackColumn, ColumnCount };
    using QAbstractTableModel::QAbstractTableModel;

    void show(std::vector<OpeningItem> items);
    [[nodiscard]] const OpeningItem* item(int row) const;

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    std::vector<OpeningItem> items_;
};

}  // namespace eh
