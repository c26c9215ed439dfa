// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/steps_model.h"

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {

void StepsModel::show(std::vector<RepairStep> steps, std::set<std::string> done) {
    beginResetModel();
    steps_ = std::move(steps);
    done_ = std::move(done);
    endResetModel();
}

const RepairStep* StepsModel::step(int row) const {
    return row >= 0 && row < rowCount() ? &steps_[static_cast<std::size_t>(row)] : nullptr;
}

bool StepsModel::isDone(int row) const {
    const RepairStep* found = step(row);
    return found != nullptr && done_.count(found->id) != 0;
}

int StepsModel::nextRow() const {
    for (int row = 0; row < rowCount(); ++row)
        if (!isDone(row))
            return row;
    return -1;
}

int StepsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(steps_.size());
}

int StepsModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : ColumnCount;
}

QVariant StepsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const RepairStep& step = steps_[static_cast<std::size_t>(index.row())];
    const bool done = isDone(index.row());
    if (role == Qt::DisplayRole) {
        if (index.column() == PhaseColumn) {
            // A phase is named where it begins.
            const bool begins =
                index.row() == 0 || steps_[static_cast<std::size_t>(index.row() - 1)].phase != step.phase;
            return begins ? format::qt(describe(step.phase)) : QString();
        }
        return (done ? QStringLiteral("✓ ") : QString()) + format::qt(step.says);
    }
    if (role == Qt::AccessibleTextRole)
        return (done ? tr("done: %1") : tr("open: %1")).arg(format::qt(step.says));
    if (role == Qt::ForegroundRole)
        return done || index.column() == PhaseColumn ? theme::colours().soft_ink : theme::colours().ink;
    if (role == Qt::TextAlignmentRole)
        return QVariant(Qt::AlignLeft | Qt::AlignTop);
    return {};
}

QVariant StepsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal)
        return {};
    return section == PhaseColumn ? tr("Phase") : tr("Step");
}

}  // namespace eh
