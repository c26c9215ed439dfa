// SPDX-License-Identifier: GPL-3.0-or-later
// Which wire of a harness is which contact, and how a replacement's wires must be moved.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QStringListModel>
#include <QTableView>
#include <QWidget>
#include <vector>

#include "app/models/rows_model.h"
#include "core/parts/harness_map.h"

namespace eh {

class HarnessPanel : public QWidget {
    Q_OBJECT
  public:
    explicit HarnessPanel(QWidget* parent = nullptr);

    [[nodiscard]] QLineEdit& pins() { return *pins_; }
    [[nodiscard]] QLineEdit& entry() { return *entry_; }
    [[nodiscard]] QLineEdit& replacement() { return *replacement_; }
    [[nodiscard]] QPushButton& removeButton() { return *remove_; }
    [[nodiscard]] RowsModel& answer() { return *rows_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QString problems() const { return problems_->text(); }
    [[nodiscard]] QString moves() const { return moves_->text(); }

  signals:
    void said(const QString& sentence);

  private:
    void add();
    void removePicked();
    void solve();
    void compare(const HarnessAnswer& answer);
    [[nodiscard]] HarnessFacts facts() const;

    QLineEdit* pins_;
    QLineEdit* contacts_;
    QLineEdit* entry_;
    QListView* list_;
    QStringListModel* lines_;
    QPushButton* remove_;
    QPushButton* clear_;
    QLabel* verdict_;
    QLabel* problems_;
    QTableView* table_;
    RowsModel* rows_;
    QLineEdit* replacement_;
    QLabel* moves_;
    std::vector<ContinuityReading> readings_;
};

}  // namespace eh
