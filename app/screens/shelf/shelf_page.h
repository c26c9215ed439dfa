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

#include "app/models/job_session.h"
#include "app/screens/shelf/shelf_model.h"
#include "core/machine/model/knowledge.h"

namespace eh {

class SimilarPanel;
class WaitingForm;

class ShelfPage : public QWidget {
    Q_OBJECT
  public:
    ShelfPage(JobSession& session, const Knowledge& knowledge, QWidget* parent = nullptr);

    // nullptr: an empty shelf.
    void useStore(JobStore* store);
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
    QWidget* makeHead();
    QWidget* makeEmpty();
    [[nodiscard]] std::string chosen() const;
    void showChosen();
    void setWaiting(const Waiting& waiting);

    JobSession& session_;
    JobStore* store_ = nullptr;
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
    QTimer typed_;    // a search waits until the fingers rest
    QTimer moved_;    // so does the comparison with earlier jobs
};

}  // namespace eh
