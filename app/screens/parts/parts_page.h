// SPDX-License-Identifier: GPL-3.0-or-later
// The shop's parts: stock, and whether what is at hand fits.
#pragma once

#include <QTabWidget>

#include "app/services/job_session.h"
#include "app/services/shop_parts.h"

namespace eh {

class CapacitorPanel;
class ChipPanel;
class HarnessPanel;
class InletPanel;
class ResistorPanel;
class StockPanel;

class PartsPage : public QTabWidget {
    Q_OBJECT
  public:
    PartsPage(JobSession& session, ShopParts& parts, QWidget* parent = nullptr);

    [[nodiscard]] StockPanel& stock() { return *stock_; }
    [[nodiscard]] InletPanel& inlet() { return *inlet_; }
    [[nodiscard]] CapacitorPanel& capacitor() { return *capacitor_; }
    [[nodiscard]] ResistorPanel& resistor() { return *resistor_; }
    [[nodiscard]] ChipPanel& chip() { return *chip_; }
    [[nodiscard]] HarnessPanel& harness() { return *harness_; }

  signals:
    void said(const QString& sentence);

  private:
    StockPanel* stock_;
    InletPanel* inlet_;
    CapacitorPanel* capacitor_;
    ResistorPanel* resistor_;
    ChipPanel* chip_;
    HarnessPanel* harness_;
};

}  // namespace eh
