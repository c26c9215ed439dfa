// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/shelf/shelf_model.h"

#include <array>

#include "app/format/text.h"
#include "app/style/theme.h"

namespace eh {
namespace {

constexpr std::array<std::optional<WaitsFor>, 7> shelves{
    std::nullopt,   WaitsFor::bench,     WaitsFor::customer, WaitsFor::part,
    WaitsFor::soak, WaitsFor::follow_up, WaitsFor::nothing};

}  // namespace

void ShelfModel::show(std::vector<JobSummary> jobs, std::int64_t now_ms) {
    beginResetModel();
    jobs_ = std::move(jobs);
    now_ms_ = now_ms;
    endResetModel();
}

int ShelfModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(jobs_.size());
}
int ShelfModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : ColumnCount;
}

QVariant ShelfModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const JobSummary& job = jobs_[static_cast<std::size_t>(index.row())];
    const bool overdue = job.waits.due_ms != 0 && job.waits.due_ms < now_ms_;
    if (role == IdRole)
        return format::qt(job.id);
    if (role == Qt::FontRole && index.column() == NumberColumn)
        return theme::number_font(1.0, true);
    if (index.column() == DueColumn && overdue) {
        if (role == Qt::ForegroundRole)
            return theme::colours().bad;
        if (role == Qt::FontRole)
            return theme::text_font(1.0, true);
    }
    if (role != Qt::DisplayRole && role != SortRole)
        return {};
    switch (index.column()) {
        case NumberColumn:
            return format::qt(job.number);
        case CustomerColumn:
            return format::qt(job.customer);
        case MachineColumn:
            return format::qt(job.machine);
        case StageColumn:
            return role == SortRole ? QVariant(static_cast<int>(job.stage))
                                    : QVariant(format::stage(job.stage));
        case WaitsColumn:
            return format::waitsFor(job.waits.on, job.stage) +
                   (job.wait_note.empty() ? QString() : ": " + format::qt(job.wait_note));
        case DueColumn:
            if (role == SortRole)
                return QVariant(static_cast<qlonglong>(job.waits.due_ms));
            return format::date(job.waits.due_ms);
        case ChangedColumn:
            return role == SortRole ? QVariant(static_cast<qlonglong>(job.updated_ms))
                                    : QVariant(format::dateTime(job.updated_ms));
        default:
            return {};
    }
}

QVariant ShelfModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    switch (section) {
        case NumberColumn:
            return tr("Job");
        case CustomerColumn:
            return tr("Customer");
        case MachineColumn:
            return tr("Machine");
        case StageColumn:
            return tr("Stage");
        case WaitsColumn:
            return tr("Waits for");
        case DueColumn:
            return tr("Due");
        case ChangedColumn:
            return tr("Last changed");
        default:
            return {};
    }
}

void ShelvesModel::show(const std::map<WaitsFor, int>& counts) {
    if (counts == counts_)
        return;
    counts_ = counts;
    emit dataChanged(index(0), index(rowCount() - 1));
}

std::optional<WaitsFor> ShelvesModel::waitsOf(int row) {
    return shelves[static_cast<std::size_t>(row)];
}

int ShelvesModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(shelves.size());
}

QVariant ShelvesModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid())
        return {};
    const auto waits = waitsOf(index.row());
    int count = 0;
    for (const auto& [on, jobs] : counts_) {
        if (waits ? on == *waits : on != WaitsFor::nothing)
            count += jobs;
    }
    if (role == CountRole)
        return count;
    if (role != Qt::DisplayRole)
        return {};
    return tr("%1   %2").arg(waits ? format::shelfName(*waits) : tr("All open")).arg(count);
}

}  // namespace eh
