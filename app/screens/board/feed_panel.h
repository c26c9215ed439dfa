// SPDX-License-Identifier: GPL-3.0-or-later
// Feeding the picked net: the plan in steps, and whether what came agrees with the ohmmeter.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include "app/services/board_bench.h"
#include "core/board/injection_plan.h"

namespace eh {

class FeedPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FeedPanel(BoardBench& bench, QWidget* parent = nullptr);

    [[nodiscard]] QTableWidget& steps() { return *steps_; }
    [[nodiscard]] QDoubleSpinBox& netVolts() { return *net_volts_; }
    [[nodiscard]] QPushButton& supplyButton() { return *to_supply_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }

  signals:
    // The step that is picked, for the supply: net of the model, volts, limit.
    void supplyAsked(const QString& net, double volts, double limit_amps);

  private:
    void netPicked();
    void plan();
    void check();
    void askSupply();

    BoardBench& bench_;
    InjectionPlan plan_;
    bool planning_ = false;
    QDoubleSpinBox* net_volts_;
    QDoubleSpinBox* narrowest_;
    QCheckBox* inside_;
    QDoubleSpinBox* supply_amps_;
    QComboBox* seen_by_;
    QTableWidget* steps_;
    QLabel* verdict_;
    QLabel* cautions_;
    QPushButton* to_supply_;
};

}  // namespace eh
