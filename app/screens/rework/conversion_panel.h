// SPDX-License-Identifier: GPL-3.0-or-later
// From a barrel inlet to USB-C: machine, source and room in, verdict and expected readings out; stopgaps.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QStringListModel>
#include <QWidget>

#include "app/services/job_session.h"
#include "app/services/shop_parts.h"
#include "core/machine/model/knowledge.h"
#include "core/rework/conversion.h"

namespace eh {

class RoomDrawing;

class ConversionPanel : public QWidget {
    Q_OBJECT
  public:
    ConversionPanel(JobSession& session, const Knowledge& knowledge, ShopParts& parts,
                    QWidget* parent = nullptr);

    [[nodiscard]] QLineEdit& source() { return *source_; }
    [[nodiscard]] QDoubleSpinBox& sourceWatts() { return *source_watts_; }
    [[nodiscard]] QDoubleSpinBox& triggerVolts() { return *trigger_volts_; }
    [[nodiscard]] QDoubleSpinBox& cableLength() { return *cable_length_; }
    [[nodiscard]] QComboBox& idScheme() { return *id_; }
    [[nodiscard]] QDoubleSpinBox& inputLimit() { return *input_limit_; }
    [[nodiscard]] QPushButton& stopgapButton() { return *add_stopgap_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QString notes() const { return notes_->text(); }
    [[nodiscard]] QString expected() const { return expected_->text(); }

  signals:
    void said(const QString& sentence);

  private:
    QWidget* makeQuestions();
    QWidget* makeAnswers();
    QWidget* makeSide();
    void takeMachine();
    void workOut();
    void show(const ConversionPlan& plan);
    void showStopgaps();
    void addStopgap();
    void endStopgap();
    [[nodiscard]] ConvertedMachine machine() const;
    [[nodiscard]] ConversionParts conversionParts() const;

    JobSession& session_;
    const Knowledge& knowledge_;
    ShopParts& parts_;
    std::string taken_from_;
    QDoubleSpinBox* adapter_volts_;
    QDoubleSpinBox* adapter_watts_;
    QDoubleSpinBox* input_limit_;
    QDoubleSpinBox* capacitors_;
    QDoubleSpinBox* idle_;
    QDoubleSpinBox* charging_;
    QDoubleSpinBox* battery_;
    QComboBox* id_;
    QDoubleSpinBox* id_ohms_;
    QDoubleSpinBox* id_watts_;
    QLineEdit* source_;
    QDoubleSpinBox* source_watts_;
    QDoubleSpinBox* bank_;
    QDoubleSpinBox* trigger_volts_;
    QDoubleSpinBox* trigger_amps_;
    QComboBox* fallback_;
    QDoubleSpinBox* cable_length_;
    QComboBox* cable_gauge_;
    QCheckBox* marked_;
    QComboBox* lead_gauge_;
    QDoubleSpinBox* lead_length_;
    QDoubleSpinBox* room_[6];
    QLabel* verdict_;
    QLabel* expected_;
    QLabel* notes_;
    QLabel* checklist_;
    RoomDrawing* drawing_;
    QListView* stopgap_view_;
    QStringListModel* stopgap_list_;
    std::vector<Stopgap> open_;
    QDoubleSpinBox* days_;
    QPushButton* add_stopgap_;
    QPushButton* end_stopgap_;
};

}  // namespace eh
