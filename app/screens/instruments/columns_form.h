// SPDX-License-Identifier: GPL-3.0-or-later
// Which column of a meter's lines means what.
#pragma once

#include <QComboBox>
#include <QSpinBox>
#include <QWidget>

#include "instruments/meter_dialect.h"

namespace eh {

class ColumnsForm : public QWidget {
    Q_OBJECT
  public:
    explicit ColumnsForm(const MeterColumns& columns, QWidget* parent = nullptr);

    [[nodiscard]] MeterColumns columns() const;
    [[nodiscard]] QSpinBox& volts() { return *volts_; }
    [[nodiscard]] QSpinBox& amps() { return *amps_; }
    [[nodiscard]] QSpinBox& time() { return *time_; }

  signals:
    void changed(const eh::MeterColumns& columns);

  private:
    QSpinBox* time_;  // 0: none; people count columns from 1
    QSpinBox* volts_;
    QSpinBox* amps_;
    QComboBox* time_unit_;
    QComboBox* volts_unit_;
    QComboBox* amps_unit_;
    QComboBox* separator_;
};

}  // namespace eh
