// SPDX-License-Identifier: GPL-3.0-or-later
// Feeding a net through a limit: what is set, the cautions, and the switch.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/services/job_session.h"
#include "core/machine/model/knowledge.h"
#include "instruments/bench_supply.h"

namespace eh {

class SupplyPanel : public QWidget {
    Q_OBJECT
  public:
    SupplyPanel(JobSession& session, BenchSupply& supply, const Knowledge& knowledge,
                QWidget* parent = nullptr);

    // Sets net, volts and limit as a plan wants them; the output stays as it is.
    void set(const QString& net, double volts, double limit_amps);
    [[nodiscard]] QComboBox& net() { return *net_; }
    [[nodiscard]] QDoubleSpinBox& volts() { return *volts_; }
    [[nodiscard]] QDoubleSpinBox& limit() { return *limit_; }
    [[nodiscard]] QPushButton& onButton() { return *on_; }
    [[nodiscard]] QPushButton& offButton() { return *off_; }
    [[nodiscard]] QPushButton& readingButton() { return *reading_; }

  signals:
    void said(const QString& sentence);
    // What was set and what came, as a quick line that waits for the hottest part.
    void readingAsked(const QString& line);

  private:
    void offerNets();
    void netChanged();
    void switchOn();
    void refresh();
    [[nodiscard]] const Topology* topology() const;
    [[nodiscard]] const Net* pickedNet() const;
    [[nodiscard]] SupplyBounds bounds() const;

    JobSession& session_;
    BenchSupply& supply_;
    const Knowledge& knowledge_;
    std::string offered_;  // topology whose nets are in the list
    QComboBox* net_;
    QDoubleSpinBox* volts_;
    QDoubleSpinBox* limit_;
    QLabel* caution_;
    QLabel* state_;
    QPushButton* on_;
    QPushButton* off_;
    QPushButton* reading_;
};

// Puts the nets of a machine into a list, by title, with their ids as data.
void offer_nets(QComboBox& list, const Topology* topology);

}  // namespace eh
