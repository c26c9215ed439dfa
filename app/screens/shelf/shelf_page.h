// The shelf: all jobs of the shop and what each waits for.
#pragma once

#include <QAbstractTableModel>
#include <QLabel>
#include <QSortFilterProxyModel>
#include <QTableView>
#include <QWidget>

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
        ChangedColumn,
        ColumnCount
    };
    enum Role { IdRole = Qt::UserRole, SortRole };
    using QAbstractTableModel::QAbstractTableModel;

    void show(std::vector<JobSummary> jobs);
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    std::vector<JobSummary> jobs_;
};

class ShelfPage : public QWidget {
    Q_OBJECT
  public:
    explicit ShelfPage(QWidget* parent = nullptr);

    void show(std::vector<JobSummary> jobs);
    [[nodiscard]] QTableView& table() { return *table_; }

  signals:
    void jobChosen(const std::string& id);
    void newTicketAsked();
    void importAsked();
    void demoAsked();

  private:
    ShelfModel* model_;
    QSortFilterProxyModel* sorted_;
    QTableView* table_;
    QWidget* empty_;
};

}  // namespace eh
