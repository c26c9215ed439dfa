// SPDX-License-Identifier: GPL-3.0-or-later
// The repair record: what was done to which part, with the cautions of that work where it is recorded.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QWidget>

#include "app/services/diagnosis_service.h"
#include "app/services/job_session.h"
#include "core/machine/model/knowledge.h"
#include "core/rework/alloy.h"

namespace eh {

class ActsModel;

class RepairPage : public QWidget {
    Q_OBJECT
  public:
    // `diagnosis` tells what was held likely before the work.
    RepairPage(JobSession& session, const DiagnosisService& diagnosis, const Knowledge& knowledge,
               const AlloyBook& alloys, QWidget* parent = nullptr);

    // Fills the form in for a part and a remedy of the catalogue; the technician confirms with record().
    void propose(const std::string& block, Work remedy);
    // Records what the form says. Returns false with a sentence on screen when it cannot.
    bool record();
    [[nodiscard]] QComboBox& solder() { return *solder_; }
    [[nodiscard]] QComboBox& school() { return *school_; }
    [[nodiscard]] QPushButton& recordButton() { return *record_; }

  signals:
    void said(const QString& sentence);
    void proofAsked();
    // The steps of the work that the form names.
    void stepsAsked(const std::string& block, Work remedy);

  private:
    QWidget* makeFields(const AlloyBook& alloys);
    void dressTable();
    void refresh();
    void fillParts();
    [[nodiscard]] Work chosenWork() const;
    void showCautions();
    void addFinding();

    JobSession& session_;
    const DiagnosisService& diagnosis_;
    const Knowledge& knowledge_;
    QComboBox* part_;
    QComboBox* kind_;
    QComboBox* origin_;
    QLineEdit* origin_words_;
    QComboBox* solder_;
    QComboBox* school_;
    QLineEdit* minutes_;
    QLineEdit* cost_;
    QLineEdit* note_;
    QLineEdit* finding_;
    QLabel* problem_;
    QLabel* done_title_;
    QLabel* cautions_;
    QPushButton* record_;
    QTableView* table_;
    ActsModel* acts_;
    std::string filled_topology_;
};

}  // namespace eh
