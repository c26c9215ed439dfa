// SPDX-License-Identifier: GPL-3.0-or-later
// Without any capture: what charger, cable and machine should make of each other by their labels, and what
// two volts at the CC pins mean.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QWidget>

#include "app/services/job_session.h"
#include "core/machine/model/knowledge.h"
#include "core/usbc/supply_check.h"

class QCustomPlot;
class QCPGraph;

namespace eh {

class CheckPage : public QWidget {
    Q_OBJECT
  public:
    CheckPage(JobSession& session, const Knowledge& knowledge, QWidget* parent = nullptr);

    [[nodiscard]] QPlainTextEdit& label() { return *label_; }
    [[nodiscard]] QDoubleSpinBox& length() { return *length_; }
    [[nodiscard]] QComboBox& mark() { return *mark_; }
    [[nodiscard]] QDoubleSpinBox& watts() { return *watts_; }
    [[nodiscard]] QDoubleSpinBox& cc1() { return *cc1_; }
    [[nodiscard]] QDoubleSpinBox& cc2() { return *cc2_; }
    [[nodiscard]] QString contract() const { return contract_->text(); }
    [[nodiscard]] QString notes() const { return notes_->text(); }
    [[nodiscard]] QString ccFinding() const { return cc_finding_->text(); }

  private:
    QWidget* makeQuestions();
    QWidget* makeAnswers();
    QWidget* makeCcPins();
    void takeMachine();
    void workOut();
    void show(const SupplyCheck& check);
    void readCc();
    [[nodiscard]] CableFacts cable() const;
    [[nodiscard]] MachineDemand machine() const;

    JobSession& session_;
    const Knowledge& knowledge_;
    std::string taken_from_;  // the machine whose demands are filled in
    QPlainTextEdit* label_;
    QDoubleSpinBox* length_;
    QComboBox* power_gauge_;
    QComboBox* ground_gauge_;
    QComboBox* mark_;
    QDoubleSpinBox* volts_;
    QDoubleSpinBox* watts_;
    QDoubleSpinBox* least_watts_;
    QLabel* contract_;
    QLabel* expected_;
    QLabel* notes_;
    QCustomPlot* plot_ = nullptr;
    QCPGraph* plug_ = nullptr;
    QCPGraph* point_ = nullptr;
    QDoubleSpinBox* cc1_;
    QDoubleSpinBox* cc2_;
    QLabel* cc_finding_;
};

}  // namespace eh
