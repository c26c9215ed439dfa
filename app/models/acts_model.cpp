// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/acts_model.h"

#include "app/format/text.h"

namespace eh {

void ActsModel::show(const std::vector<Act>& acts, const Topology* topology,
                     const FaultCatalogue& catalogue) {
    beginResetModel();
    acts_ = acts;
    topology_ = topology;
    catalogue_ = &catalogue;
    endResetModel();
}

int ActsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(acts_.size());
}
int ActsModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : ColumnCount;
}

QVariant ActsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || role != Qt::DisplayRole)
        return {};
    const Act& act = acts_[static_cast<std::size_t>(index.row())];
    switch (index.column()) {
        case PartColumn: {
            const Block* block = topology_ == nullptr ? nullptr : topology_->find_block(act.block);
            return block == nullptr ? format::qt(act.block) : format::qt(block->title);
        }
        case WorkColumn:
            return format::workWord(act.kind);
        case OriginColumn:
            return format::qt(origin_words(act, *catalogue_));
        case MinutesColumn:
            return act.minutes > 0.0 ? format::minutes(act.minutes) : QString();
        case CostColumn:
            return act.cost > 0.0 ? format::number(act.cost, 2) : QString();
        case NoteColumn:
            return format::qt(act.note);
        case WhenColumn:
            return format::dateTime(act.done_ms);
        default:
            return {};
    }
}

QVariant ActsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    switch (section) {
        case PartColumn:
            return tr("Part");
        case WorkColumn:
            return tr("Work");
        case OriginColumn:
            return tr("Part from");
        case MinutesColumn:
            return tr("Time");
        case CostColumn:
            return tr("Cost");
        case NoteColumn:
            return tr("Note");
        case WhenColumn:
            return tr("When");
        default:
            return {};
    }
}

}  // namespace eh
