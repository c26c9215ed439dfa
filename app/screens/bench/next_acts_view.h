// SPDX-License-Identifier: GPL-3.0-or-later
// The best things to do next, each with its minutes and what it would tell.
#pragma once

#include <QAbstractListModel>
#include <QListView>

#include "app/services/diagnosis_service.h"

namespace eh {

// List model over the acts of an answer.
class NextActsModel : public QAbstractListModel {
    Q_OBJECT
  public:
    enum Role { MinutesRole = Qt::UserRole, TellsRole, RepairRole };
    using QAbstractListModel::QAbstractListModel;

    void show(const Answer& answer);
    void clear();
    [[nodiscard]] const NextAct* act(int row) const;
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;

  private:
    std::shared_ptr<Engine> engine_;
    std::vector<NextAct> acts_;
    QString why_;  // the first of them
};

class NextActsView : public QListView {
    Q_OBJECT
  public:
    explicit NextActsView(QWidget* parent = nullptr);

    void show(const Answer& answer);
    void clear();
    [[nodiscard]] const NextActsModel& acts() const { return *model_; }
    // Picks the act of that row, as a click on it does.
    void pick(int row);

    // The net that the act of that row reads, "" where it reads none.
    [[nodiscard]] std::string netOf(int row) const;
    // Tells that the net of that row cannot be reached, as the menu of the row and the Delete key do.
    void giveUp(int row);

  signals:
    void picked(const eh::NextAct& act);
    void outOfReach(const std::string& net);

  protected:
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    NextActsModel* model_;
};

}  // namespace eh
