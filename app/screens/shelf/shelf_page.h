// SPDX-License-Identifier: GPL-3.0-or-later
// The shelf: the shop's jobs by what they wait for, a search over everything, and earlier jobs like the
// chosen one.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QSortFilterProxyModel>
#include <QTableView>
#include <QTimer>
#include <QWidget>

#include "app/screens/shelf/shelf_model.h"
#include "app/services/job_session.h"
#include "core/machine/model/knowledge.h"

namespace eh {

class SimilarPanel;
class WaitingForm;

class ShelfPage : public QWidget {
    Q_OBJECT
  public:
    ShelfPage(JobRepository& repository, JobSession& session, const Knowledge& knowledge,
              QWidget* parent = nullptr);

    // Reads the shelf anew; the chosen job stays chosen.
    void refresh();

    [[nodiscard]] QTableView& table() { return *table_; }
    [[nodiscard]] QListView& shelves() { return *shelves_; }
    [[nodiscard]] QLineEdit& search() { return *search_; }
    [[nodiscard]] WaitingForm& waiting() { return *waiting_; }
    [[nodiscard]] SimilarPanel& similar() { return *similar_; }

  signals:
    void jobChosen(const std::string& id);
    void newTicketAsked();
    void importAsked();
    void demoAsked();
    void said(const QString& sentence);

  private:
    void dressTable();
    QWidget* makeHead();
    QWidget* makeEmpty();
    [[nodiscard]] std::string chosen() const;
    // What the shelf shows, as the store gives it.
    struct Shelf {
        std::map<WaitsFor, int> counts;
        std::vector<JobSummary> jobs;
    };
    void show(const Result<Shelf>& shelf, bool searching);
    void showChosen();
    void compare(const Job& job);
    void setWaiting(const Waiting& waiting);

    JobRepository& repository_;
    JobSession& session_;
    ShelfModel* model_;
    QSortFilterProxyModel* sorted_;
    ShelvesModel* shelves_model_;
    QListView* shelves_;
    QLineEdit* search_;
    QLabel* found_;
    QTableView* table_;
    WaitingForm* waiting_;
    SimilarPanel* similar_;
    QWidget* full_;   // what is seen when there are jobs,
    QWidget* empty_;  // and when there are none
    Asking shelf_;
    Asking chosen_;
    Asking similar_jobs_;
    QTimer typed_;  // a search waits until the fingers rest
    QTimer moved_;  // so does the comparison with earlier jobs
};

}  // namespace eh
