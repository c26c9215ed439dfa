// SPDX-License-Identifier: GPL-3.0-or-later
// What is printed on a resistor, and which one of the drawer does its work.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTableView>
#include <QWidget>

#include "app/models/rows_model.h"
#include "app/services/shop_parts.h"

namespace eh {

class ResistorPanel : public QWidget {
    Q_OBJECT
  public:
    explicit ResistorPanel(ShopParts& parts, QWidget* parent = nullptr);

    [[nodiscard]] QLineEdit& marking() { return *marking_; }
    [[nodiscard]] QLineEdit& wanted() { return *wanted_; }
    [[nodiscard]] QComboBox& role() { return *role_; }
    [[nodiscard]] QString meaning() const { return meaning_->text(); }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] RowsModel& choices() { return *rows_; }

  private:
    void readMarking();
    void choose();

    ShopParts& parts_;
    QLineEdit* marking_;
    QLabel* meaning_;
    QLineEdit* wanted_;
    QLabel* written_;
    QComboBox* role_;
    QLabel* why_;
    QLabel* verdict_;
    QTableView* table_;
    RowsModel* rows_;
};

}  // namespace eh
