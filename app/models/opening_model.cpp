// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/opening_model.h"

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {

void OpeningModel::show(std::vector<OpeningItem> items) {
    beginResetModel();
    items_ = std::move(items);
    endResetModel();
}

const OpeningItem* OpeningModel::item(int row) const {
    return row >= 0 && row < rowCount() ? &items_[static_cast<std::size_t>(row)] : nullptr;
}

int OpeningModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(items_.size());
}

int OpeningModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : ColumnCount;
}

QVariant OpeningModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const OpeningItem& item = items_[static_cast<std::size_t>(index.row())];
    const bool all_back = item.back == item.count;
    if (role == Qt::ForegroundRole)
        return all_back ? theme::colours().soft_ink : theme::colours().ink;
    if (role != Qt::DisplayRole)
        return {};
    switch (index.column()) {
        case WhatColumn: {
            const QString kind = item.kind == OpeningKind::screw       ? tr("screws", nullptr)
                                 : item.kind == OpeningKind::connector ? QString()
                                 : item.kind == OpeningKind::clip      ? tr("clips")
                                                                       : QString();
            const QString place = format::qt(item.place);
            return kind.isEmpty() ? place : place.isEmpty() ? kind : tr("%1, %2").arg(kind, place);
        }
        case LengthColumn:
            return item.length_mm > 0.0 ? tr("%1 mm").arg(format::figures(item.length_mm, 6)) : QString();
        case BackColumn:
            return all_back ? tr("✓ %1 of %2").arg(item.back).arg(item.count)
                            : tr("%1 of %2").arg(item.back).arg(item.count);
        default:
            return {};
    }
}

QVariant OpeningModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal)
        return {};
    static const QStringList names{tr("What"), tr("Length"), tr("Back")};
    return names.value(section);
}

}  // namespace eh
