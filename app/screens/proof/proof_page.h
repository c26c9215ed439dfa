// SPDX-License-Identifier: GPL-3.0-or-later
// Proof: what must be shown before the machine leaves, each step decided by a reading.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QWidget>
#include <optional>

#include "app/screens/proof/proof_model.h"
#include "app/services/diagnosis_service.h"
#include "app/services/job_session.h"
#include "app/services/meter_capture.h"

namespace eh {

class ProofPage : public QWidget {
    Q_OBJECT
  public:
    ProofPage(JobSession& session, DiagnosisService& diagnosis, const MeterCapture& meter_capture,
              const Knowledge& knowledge, QWidget* parent = nullptr);

    // Makes the list of steps from the machine and the work done; keeps what is decided already.
    void makePlan();
    // Puts the bench as the selected step needs it.
    void setBenchUp();
    // Decides the selected step: meter steps by what the stream shows, parts that must stay cool by the rise
    // that was typed, the others by `good`.
    void decide(bool good);
    // Lets the selected step go without proof, for the reason typed.
    void waive();

    [[nodiscard]] QTableView& table() { return *table_; }
    [[nodiscard]] QLineEdit& rise() { return *rise_; }

  signals:
    void said(const QString& sentence);
    void handoverAsked();
    // The battery's volts must be read first.
    void batteryAsked();

  private:
    void dressTable();
    void wire();
    void refresh();
    [[nodiscard]] int selected() const;
    [[nodiscard]] std::optional<ReadingKind> selectedKind() const;
    void decideCheck(const ProofStep& step, std::size_t index, bool good);
    void decideWith(Reading reading, std::size_t step);

    JobSession& session_;
    DiagnosisService& diagnosis_;
    const MeterCapture& meter_capture_;
    const Knowledge& knowledge_;
    ProofModel* model_;
    QTableView* table_;
    QLabel* summary_;
    QPushButton* make_;
    QPushButton* set_up_;
    QPushButton* good_;
    QPushButton* bad_;
    QPushButton* waive_;
    QLineEdit* rise_;
    QLineEdit* reason_;
};

}  // namespace eh
