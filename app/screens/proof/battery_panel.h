// SPDX-License-Identifier: GPL-3.0-or-later
// Does the battery charge: its volts over time, what they prove, how long it takes, what the machine itself
// says.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>

#include "app/services/job_session.h"
#include "core/machine/model/knowledge.h"
#include "instruments/meter_feed.h"
#include "instruments/multimeter.h"

class QCustomPlot;

namespace eh {

class BatteryPanel : public QWidget {
    Q_OBJECT
  public:
    BatteryPanel(JobSession& session, const Knowledge& knowledge, MeterFeed& feed, Multimeter& multimeter,
                 QWidget* parent = nullptr);

    [[nodiscard]] QLineEdit& entry() { return *entry_; }
    [[nodiscard]] QCheckBox& chargerIn() { return *charger_in_; }
    [[nodiscard]] QDoubleSpinBox& machineWatts() { return *machine_watts_; }
    [[nodiscard]] QPlainTextEdit& report() { return *report_; }
    [[nodiscard]] QPushButton& takeReportButton() { return *take_report_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] QString says() const { return says_->text(); }
    [[nodiscard]] QString time() const { return time_->text(); }
    [[nodiscard]] QString findingsText() const { return findings_->text(); }

  signals:
    void said(const QString& sentence);

  private:
    QWidget* makeQuestions();
    QWidget* makeAnswers();
    QWidget* makeReport();
    void refresh();
    void editLog(const QString& text, const std::function<void(BatteryLog&)>& change,
                 const QString& merge = {});
    void takeFields();
    void addTyped();
    bool add(double volts);  // false, and said, where it was not taken
    void takeMeasured();
    void takeReport();
    void loadReport(const QString& file);
    void drawVolts(const BatteryLog& log, const ChargingVerdict& verdict);
    void drawCourse(const BatteryLog& log, const ChargingVerdict& verdict);

    JobSession& session_;
    const Knowledge& knowledge_;
    MeterFeed& feed_;
    Multimeter& multimeter_;
    bool filling_ = false;  // fields are being set from the job
    double live_watts_ = 0.0;
    QElapsedTimer live_age_;
    QComboBox* cells_;
    QDoubleSpinBox* in_series_;
    QDoubleSpinBox* capacity_;
    QDoubleSpinBox* digit_;
    QDoubleSpinBox* machine_watts_;
    QDoubleSpinBox* limit_;
    QCheckBox* machine_off_;
    QLineEdit* entry_;
    QCheckBox* charger_in_;
    QPushButton* measured_;
    QPushButton* clear_;
    QLabel* verdict_;
    QLabel* says_;
    QLabel* split_;
    QLabel* time_;
    QCustomPlot* volts_plot_;
    QCustomPlot* course_plot_;
    QPlainTextEdit* report_;
    QPushButton* take_report_;
    QPushButton* this_machine_;
    QLabel* findings_;
};

}  // namespace eh
