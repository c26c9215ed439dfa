// SPDX-License-Identifier: GPL-3.0-or-later
// A capacitor on a rail: rating, what is left under its volts, left off among several, and what may replace
// it.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>
#include <QTableView>
#include <QWidget>

#include "app/models/rows_model.h"
#include "app/services/shop_parts.h"

class QCustomPlot;

namespace eh {

class CapacitorPanel : public QWidget {
    Q_OBJECT
  public:
    explicit CapacitorPanel(ShopParts& parts, QWidget* parent = nullptr);

    [[nodiscard]] QLineEdit& value() { return *value_; }
    [[nodiscard]] QLineEdit& rail() { return *rail_; }
    [[nodiscard]] QLineEdit& curve() { return *curve_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] RowsModel& choices() { return *rows_; }

  private:
    void workOut();
    void drawBias(double rated_volts, double rail_volts);

    ShopParts& parts_;
    QLineEdit* value_;
    QLineEdit* rated_;
    QLineEdit* rail_;
    QComboBox* dielectric_;
    QLineEdit* package_;
    QSpinBox* parallel_;
    QLineEdit* curve_;
    QLabel* verdict_;
    QLabel* left_off_;
    QTableView* table_;
    RowsModel* rows_;
    QCustomPlot* plot_;
};

}  // namespace eh
