// SPDX-License-Identifier: GPL-3.0-or-later
// How a capture of the CC line is to be read, asked where the file itself does not tell it: which wires, what
// unit of time, how many samples a second, which volts are high.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "core/usbc/cc_capture.h"

namespace eh {

class CaptureForm : public QWidget {
    Q_OBJECT
  public:
    explicit CaptureForm(QWidget* parent);

    // Shows what a capture was read with, what it asks, and fills in what it suggests.
    void show(const pd::CaptureReport& report, const pd::CaptureOptions& how);
    // What the fields say now; what they leave to the file stays empty.
    [[nodiscard]] pd::CaptureOptions how() const;

    [[nodiscard]] QComboBox& firstWire() { return *wires_[0]; }
    [[nodiscard]] QComboBox& unit() { return *unit_; }
    [[nodiscard]] QDoubleSpinBox& rate() { return *rate_; }
    [[nodiscard]] QPushButton& readButton() { return *read_; }
    [[nodiscard]] QString question() const { return question_->text(); }

  signals:
    void readAsked(const eh::pd::CaptureOptions& how);

  private:
    void offerWires(const pd::CaptureReport& report, const pd::CaptureOptions& how);
    void offerTimes(const pd::CaptureReport& report, const pd::CaptureOptions& how);

    QFormLayout* fields_;
    QLabel* question_;
    std::array<QComboBox*, 2> wires_;
    QComboBox* unit_;
    QDoubleSpinBox* rate_;
    QDoubleSpinBox* threshold_;
    QPushButton* read_;
};

}  // namespace eh
