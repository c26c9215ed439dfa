// SPDX-License-Identifier: GPL-3.0-or-later
// The shop's own kinds of machine: described, changed, deleted, and taken over from another bench.
#pragma once

#include <QDialog>
#include <functional>

#include "app/models/rows_model.h"
#include "app/services/machine_library.h"

class QLabel;
class QPushButton;
class QTableView;

namespace eh {

class OwnMachinesDialog : public QDialog {
    Q_OBJECT
  public:
    // Tells how many jobs of the shop are on machines of each of these kinds, sooner or later.
    using Counts = std::vector<Result<int>>;
    using CountJobs =
        std::function<void(const std::vector<std::string>& topologies, std::function<void(const Counts&)>)>;
    OwnMachinesDialog(MachineLibrary& library, CountJobs count_jobs, QWidget* parent = nullptr);

    // Lists them as they are now.
    void refresh();
    // Takes in the file of a machine that another bench described.
    void takeIn(const QString& file);

    [[nodiscard]] QTableView& table() { return *table_; }
    [[nodiscard]] QPushButton& change() { return *change_; }
    [[nodiscard]] QPushButton& remove() { return *remove_; }
    [[nodiscard]] QString problem() const;

  signals:
    void describeAsked();
    void changeAsked(const std::string& topology);

  protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

  private:
    [[nodiscard]] std::string chosen() const;  // id; empty: none
    void choose();
    void removeChosen();
    void remove(const std::string& id, const Result<int>& jobs);
    void showJobs(const std::vector<std::string>& ids, const Counts& counts);
    void tell(const Outcome& outcome);

    MachineLibrary& library_;
    CountJobs count_jobs_;
    RowsModel* rows_;
    std::vector<std::string> ids_;  // by row
    QTableView* table_;
    QPushButton* change_;
    QPushButton* remove_;
    QLabel* says_;
};

}  // namespace eh
