// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/rows_model.h"

#include "app/style/theme.h"

namespace eh {

RowsModel::RowsModel(QStringList headers, QObject* parent)
    : QAbstractTableModel(parent), headers_(std::move(headers)) {}

void RowsModel::show(std::vector<Row> rows) {
    beginResetModel();
    rows_ = std::move(rows);
    endResetModel();
}

void RowsModel::setCell(int row, int column, const QString& text) {
    rows_[static_cast<std::size_t>(row)].cells[column] = text;
    emit dataChanged(index(row, column), index(row, column));
}

QString RowsModel::cell(int row, int column) const {
    return row >= 0 && row < rowCount() ? rows_[static_cast<std::size_t>(row)].cells.value(column)
                                        : QString();
}

int RowsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int RowsModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(headers_.size());
}

QVariant RowsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    if (role == Qt::DisplayRole || role == Qt::ToolTipRole)
        return row.cells.value(index.column());
    if (role == Qt::ForegroundRole)
        return row.tone == Tone::good   ? theme::colours().good
               : row.tone == Tone::soft ? theme::colours().soft_ink
                                        : theme::colours().ink;
    return {};
}

QVariant RowsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal)
        return {};
    return headers_.value(section);
}

}  // namespace eh
