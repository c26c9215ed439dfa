// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of the design of the machine on the bench, and since which reading; whether it learns from
// earlier machines of its name.
#pragma once

#include <QDialog>

#include "app/models/rows_model.h"
#include "app/services/design_service.h"

class QCheckBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QTableView;

namespace eh {

class DesignDialog : public QDialog {
    Q_OBJECT
  public:
    // All outlive it.
    DesignDialog(JobSession& session, DiagnosisService& diagnosis, DesignService& design,
                 const Knowledge& knowledge, QWidget* parent = nullptr);

    // Shows itself and asks about the job on the bench; asks anew whenever the answer to it changes.
    void present();

  private:
    void ask();
    void showDesign(const KnownDesign& design);
    void layOut();
    void showArchitectures(const KnownDesign& design);
    void chooseArchitecture();
    void buildAsChosen();
    void showLikeness();
    [[nodiscard]] QString teachersText(const KnownDesign& design) const;

    JobSession& session_;
    DesignService& design_;
    const Knowledge& knowledge_;
    QLabel* says_;
    QTableView* builds_;
    RowsModel* build_rows_;
    std::vector<std::string> build_ids_;  // by row
    QLabel* about_;
    QPushButton* build_so_;
    QTableView* table_;
    RowsModel* rows_;
    QProgressBar* busy_;
    QCheckBox* like_its_kind_;
    QLabel* lesson_;
};

}  // namespace eh
