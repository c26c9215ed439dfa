// SPDX-License-Identifier: GPL-3.0-or-later
// A net's ohms and diode drop against what is known of it: twin, own boards, model; and after a part was
// taken off.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "app/services/board_bench.h"

namespace eh {

class RangeBar;

class ExpectedPanel : public QWidget {
    Q_OBJECT
  public:
    explicit ExpectedPanel(BoardBench& bench, QWidget* parent = nullptr);

    [[nodiscard]] QComboBox& quantity() { return *quantity_; }
    [[nodiscard]] QLineEdit& entry() { return *entry_; }
    [[nodiscard]] QDoubleSpinBox& leads() { return *leads_; }
    [[nodiscard]] QPushButton& soundButton() { return *sound_; }
    [[nodiscard]] QComboBox& removed() { return *removed_; }
    [[nodiscard]] QLineEdit& after() { return *after_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QString evidence() const { return evidence_->text(); }
    [[nodiscard]] QString removal() const { return removal_->text(); }

  signals:
    void said(const QString& sentence);

  private:
    QWidget* makeReading();
    QWidget* makeRemoval();
    void take();
    void refresh();
    void refreshRemoval();
    void takeRemoval();
    void offerParts();
    [[nodiscard]] NetQuantity asked() const;
    // What was typed, or nothing with a sentence.
    std::optional<NetValue> typed(const QString& text, NetQuantity quantity);

    BoardBench& bench_;
    QComboBox* quantity_;
    QLineEdit* entry_;
    QDoubleSpinBox* leads_;
    QPushButton* sound_;
    QLabel* caution_;
    RangeBar* bar_;
    QLabel* verdict_;
    QLabel* evidence_;
    QComboBox* removed_;
    QLabel* forecast_;
    QLineEdit* after_;
    QLabel* removal_;
    int offered_net_ = no_index;
};

}  // namespace eh
