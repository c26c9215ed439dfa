// Proof: what must be shown before the machine leaves, each step decided by a reading.
#pragma once

#include <QAbstractTableModel>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QWidget>

#include "app/models/diagnosis_service.h"
#include "app/models/job_session.h"
#include "app/models/meter_recording.h"
#include "instruments/meter_feed.h"

namespace eh {

class ProofModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column { StepColumn, StateColumn, ReadingColumn, ReasonColumn, ColumnCount };
    using QAbstractTableModel::QAbstractTableModel;

    void show(const Job& job, const Topology* topology);
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    Job job_;
    const Topology* topology_ = nullptr;
};

class ProofPage : public QWidget {
    Q_OBJECT
  public:
    ProofPage(JobSession& session, DiagnosisService& diagnosis, MeterRecording& recording, MeterFeed& feed,
              const Knowledge& knowledge, QWidget* parent = nullptr);

    // Makes the list of steps from the machine and the work done; keeps what is decided already.
    void makePlan();
    // Puts the bench as the selected step needs it.
    void setBenchUp();
    // Decides the selected step: meter steps by what the stream shows, the others by `good`.
    void decide(bool good);
    // Lets the selected step go without proof, for the reason typed.
    void waive();

    [[nodiscard]] QTableView& table() { return *table_; }

  signals:
    void said(const QString& sentence);
    void handoverAsked();

  private:
    void refresh();
    [[nodiscard]] int selected() const;
    void decideWith(Reading reading, std::size_t step);

    JobSession& session_;
    DiagnosisService& diagnosis_;
    MeterRecording& recording_;
    MeterFeed& feed_;
    const Knowledge& knowledge_;
    ProofModel* model_;
    QTableView* table_;
    QLabel* summary_;
    QPushButton* make_;
    QPushButton* set_up_;
    QPushButton* good_;
    QPushButton* bad_;
    QPushButton* waive_;
    QLineEdit* reason_;
    BenchConfiguration last_bench_;
    double bench_changed_s_ = 0.0;
};

}  // namespace eh
