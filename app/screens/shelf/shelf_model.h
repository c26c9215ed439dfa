// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of the shelf, in the order in which the store gives them.
#pragma once

#include <QAbstractTableModel>
#include <optional>

#include "store/job_store.h"

namespace eh {

class ShelfModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column {
        NumberColumn,
        CustomerColumn,
        MachineColumn,
        StageColumn,
        WaitsColumn,
        DueColumn,
        ChangedColumn,
        ColumnCount
    };
    enum Role { IdRole = Qt::UserRole, SortRole };
    using QAbstractTableModel::QAbstractTableModel;

    // Dates that lie before `now_ms` stand out.
    void show(std::vector<JobSummary> jobs, std::int64_t now_ms);
    [[nodiscard]] const JobSummary& job(int row) const { return jobs_[static_cast<std::size_t>(row)]; }

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    std::vector<JobSummary> jobs_;
    std::int64_t now_ms_ = 0;
};

// The shelves: one for each thing that jobs wait for, with how many stand on it.
class ShelvesModel : public QAbstractListModel {
    Q_OBJECT
  public:
    enum Role { CountRole = Qt::UserRole };
    using QAbstractListModel::QAbstractListModel;

    void show(const std::map<WaitsFor, int>& counts);
    // What the row holds: all open jobs when nullopt.
    [[nodiscard]] static std::optional<WaitsFor> waitsOf(int row);

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;

  private:
    std::map<WaitsFor, int> counts_;
};

}  // namespace eh
