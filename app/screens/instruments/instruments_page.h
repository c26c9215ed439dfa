// SPDX-License-Identifier: GPL-3.0-or-later
// The instruments on the bench: what each is connected to, what it shows, and why one does not answer.
#pragma once

#include <QComboBox>
#include <QTimer>
#include <QWidget>

#include "app/screens/instruments/instrument_card.h"
#include "app/services/job_session.h"
#include "app/settings/preferences.h"
#include "core/machine/model/knowledge.h"
#include "instruments/bench_supply.h"
#include "instruments/meter_feed.h"
#include "instruments/multimeter.h"

namespace eh {

class ColumnsForm;
class SupplyPanel;

class InstrumentsPage : public QWidget {
    Q_OBJECT
  public:
    InstrumentsPage(JobSession& session, MeterFeed& feed, Multimeter& multimeter, BenchSupply& supply,
                    Preferences& preferences, const Knowledge& knowledge, QWidget* parent = nullptr);

    [[nodiscard]] InstrumentCard& meterCard() { return *meter_card_; }
    [[nodiscard]] InstrumentCard& multimeterCard() { return *multimeter_card_; }
    [[nodiscard]] InstrumentCard& supplyCard() { return *supply_card_; }
    [[nodiscard]] SupplyPanel& supplyPanel() { return *supply_panel_; }
    [[nodiscard]] ColumnsForm& columns() { return *columns_; }
    [[nodiscard]] QComboBox& probeNet() { return *probe_net_; }
    [[nodiscard]] QComboBox& function() { return *function_; }
    [[nodiscard]] QPushButton& readingButton() { return *take_; }

    // Takes what the multimeter shows as a reading of the net that its probe is on.
    void takeMultimeter();

  signals:
    void said(const QString& sentence);
    void meterAsked(const QString& address);
    void multimeterAsked(const QString& address);
    void supplyAsked(const QString& address);
    void injectionAsked(const QString& line);  // a quick line that waits for the hottest part

  protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

  private:
    void makeMeterCard();
    void makeMultimeterCard();
    void makeSupplyCard();
    void refresh();
    void refreshMeter();
    void refreshMultimeter();
    void refreshSupply();
    void offerNets();
    void probeMoved();
    void watchMultimeter();

    JobSession& session_;
    MeterFeed& feed_;
    Multimeter& multimeter_;
    BenchSupply& supply_;
    Preferences& preferences_;
    const Knowledge& knowledge_;
    std::string offered_;
    InstrumentCard* meter_card_;
    InstrumentCard* multimeter_card_;
    InstrumentCard* supply_card_;
    ColumnsForm* columns_ = nullptr;
    QLabel* nonsense_ = nullptr;
    QComboBox* function_ = nullptr;
    QComboBox* probe_net_ = nullptr;
    QPushButton* take_ = nullptr;
    SupplyPanel* supply_panel_ = nullptr;
    QTimer refresh_;
};

}  // namespace eh
