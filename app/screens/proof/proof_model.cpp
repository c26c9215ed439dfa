// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/proof/proof_model.h"

#include "app/format/text.h"
#include "app/style/theme.h"
#include "core/proof/proof.h"

namespace eh {
namespace {

QString state_text(ProofState state) {
    switch (state) {
        case ProofState::open:
            return ProofModel::tr("○  open");
        case ProofState::passed:
            return ProofModel::tr("✓  passed");
        case ProofState::failed:
            return ProofModel::tr("✗  failed");
        case ProofState::waived:
            return ProofModel::tr("–  waived");
    }
    return {};
}

}  // namespace

void ProofModel::show(const Job& job, const Topology* topology) {
    beginResetModel();
    job_ = job;
    topology_ = topology;
    endResetModel();
}

int ProofModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() || topology_ == nullptr ? 0 : static_cast<int>(job_.proof.size());
}
int ProofModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : ColumnCount;
}

QVariant ProofModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const ProofStep& step = job_.proof[static_cast<std::size_t>(index.row())];
    const auto& c = theme::colours();
    if (role == Qt::ForegroundRole && index.column() == StateColumn) {
        return step.state == ProofState::passed   ? QVariant(c.good)
               : step.state == ProofState::failed ? QVariant(c.bad)
                                                  : QVariant();
    }
    if (role == Qt::FontRole && index.column() == StateColumn)
        return theme::text_font(1.0, true);
    if (role != Qt::DisplayRole && role != Qt::ToolTipRole)
        return {};
    switch (index.column()) {
        case StepColumn:
            return format::qt(describe(step, *topology_));
        case StateColumn:
            return state_text(step.state);
        case ReadingColumn: {
            const Reading* reading = find_reading(job_, step.reading_id);
            return reading == nullptr ? QString() : format::qt(describe_value(*reading, *topology_));
        }
        case ReasonColumn:
            return format::qt(step.reason);
        default:
            return {};
    }
}

QVariant ProofModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    switch (section) {
        case StepColumn:
            return tr("To be shown");
        case StateColumn:
            return tr("State");
        case ReadingColumn:
            return tr("Reading");
        case ReasonColumn:
            return tr("Why");
        default:
            return {};
    }
}

}  // namespace eh
