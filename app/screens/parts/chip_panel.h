// SPDX-License-Identifier: GPL-3.0-or-later
// May this chip go there: programmed ones by the shop's own table, regulators by their values.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QWidget>

#include "app/models/rows_model.h"
#include "app/services/job_session.h"
#include "app/services/shop_parts.h"

namespace eh {

class ChipPanel : public QWidget {
    Q_OBJECT
  public:
    ChipPanel(JobSession& session, ShopParts& parts, QWidget* parent = nullptr);

    [[nodiscard]] QLineEdit& fromBoard() { return *from_board_; }
    [[nodiscard]] QLineEdit& fromPosition() { return *from_position_; }
    [[nodiscard]] QLineEdit& toBoard() { return *to_board_; }
    [[nodiscard]] QLineEdit& toPosition() { return *to_position_; }
    [[nodiscard]] QLineEdit& outcome() { return *outcome_; }
    [[nodiscard]] QPushButton& recordButton() { return *record_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QString regulatorVerdict() const { return regulator_verdict_->text(); }
    [[nodiscard]] RowsModel& regulators() { return *regulator_rows_; }
    [[nodiscard]] QLineEdit& inVolts() { return *in_volts_; }

  signals:
    void said(const QString& sentence);

  private:
    QWidget* makeDonor();
    QWidget* makeRegulator();
    void advise();
    void match();
    void record();

    JobSession& session_;
    ShopParts& parts_;
    QLineEdit* from_board_;
    QLineEdit* from_position_;
    QLineEdit* to_board_;
    QLineEdit* to_position_;
    QLabel* verdict_;
    QLabel* why_;
    QLineEdit* outcome_;
    QPushButton* record_;
    QTableView* table_;
    RowsModel* rows_;
    QLineEdit* name_;
    QLineEdit* in_volts_;
    QLineEdit* out_volts_;
    QLineEdit* amps_;
    QLineEdit* package_;
    QLineEdit* pinout_;
    QLabel* regulator_verdict_;
    QTableView* regulator_table_;
    RowsModel* regulator_rows_;
};

}  // namespace eh
