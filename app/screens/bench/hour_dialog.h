// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of the next hour: acts in their order, and where what is seen forks the way.
#pragma once

#include <QDialog>
#include <QTreeWidget>

#include "app/services/hour_service.h"

class QLabel;
class QProgressBar;
class QPushButton;

namespace eh {

class HourDialog : public QDialog {
    Q_OBJECT
  public:
    // All outlive it.
    HourDialog(JobSession& session, DiagnosisService& diagnosis, QWidget* parent = nullptr);

    // Shows itself and asks about the job on the bench; asks anew whenever the answer to it changes.
    void present();
    void done(int result) override;
    // The plan as indented text, for the clipboard.
    [[nodiscard]] QString text() const;

  signals:
    void begun(const eh::NextAct& act);  // the first act shall begin

  private:
    void ask();
    void showHour(const PlannedHour& hour);
    void layOut();

    HourService hours_;
    QLabel* says_;
    QTreeWidget* tree_;
    QProgressBar* busy_;
    QPushButton* begin_;
    std::optional<NextAct> first_;
};

}  // namespace eh
