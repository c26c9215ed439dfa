// SPDX-License-Identifier: GPL-3.0-or-later
// Does this receptacle or jack fit; what is lost with torn pads; keep the old one or not.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>
#include <set>

#include "app/services/shop_parts.h"

namespace eh {

class OverlayDrawing;

class InletPanel : public QWidget {
    Q_OBJECT
  public:
    explicit InletPanel(ShopParts& parts, QWidget* parent = nullptr);

    [[nodiscard]] QComboBox& board() { return *board_; }
    [[nodiscard]] QComboBox& part() { return *part_; }
    [[nodiscard]] OverlayDrawing& drawing() { return *drawing_; }
    [[nodiscard]] QPlainTextEdit& measured() { return *measured_; }
    [[nodiscard]] QPushButton& keepButton() { return *keep_; }
    [[nodiscard]] QCheckBox& oldSound() { return *torn_off_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QString reasons() const { return reasons_->text(); }
    [[nodiscard]] QString padsText() const { return pads_->text(); }
    [[nodiscard]] QString advice() const { return advice_->text(); }

  signals:
    void said(const QString& sentence);

  private:
    QWidget* makeComparison();
    QWidget* makeSide();
    void fill();
    void compare();
    void judgePads();
    void judgeOld();
    void togglePad(const QString& name);
    void keepMeasured();

    ShopParts& parts_;
    std::vector<Footprint> footprints_;
    std::optional<FootprintComparison> comparison_;
    std::set<std::string> torn_;
    QComboBox* board_;
    QComboBox* part_;
    OverlayDrawing* drawing_;
    QLabel* verdict_;
    QLabel* reasons_;
    QDoubleSpinBox* amps_;
    QLabel* pads_;
    QCheckBox* torn_off_;
    QCheckBox* worn_;
    QCheckBox* bent_;
    QCheckBox* melted_;
    QCheckBox* shorted_;
    QCheckBox* wet_;
    QCheckBox* original_;
    QLabel* advice_;
    QPlainTextEdit* measured_;
    QPushButton* keep_;
};

}  // namespace eh
