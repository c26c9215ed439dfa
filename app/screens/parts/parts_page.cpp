// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/screens/parts/parts_page.h"

#include "app/screens/parts/capacitor_panel.h"
#include "app/screens/parts/chip_panel.h"
#include "app/screens/parts/harness_panel.h"
#include "app/screens/parts/inlet_panel.h"
#include "app/screens/parts/resistor_panel.h"
#include "app/screens/parts/stock_panel.h"

namespace eh {

PartsPage::PartsPage(JobSession& session, ShopParts& parts, QWidget* parent)
    : QTabWidget(parent),
      stock_(new StockPanel(session, parts, this)),
      inlet_(new InletPanel(parts, this)),
      capacitor_(new CapacitorPanel(parts, this)),
      resistor_(new ResistorPanel(parts, this)),
      chip_(new ChipPanel(session, parts, this)),
      harness_(new HarnessPanel(this)) {
    setDocumentMode(true);
    addTab(stock_, tr("&Stock"));
    addTab(inlet_, tr("&Inlet"));
    addTab(capacitor_, tr("&Capacitor"));
    addTab(resistor_, tr("&Resistor"));
    addTab(chip_, tr("Chi&p"));
    addTab(harness_, tr("&Harness"));
    connect(stock_, &StockPanel::said, this, &PartsPage::said);
    connect(inlet_, &InletPanel::said, this, &PartsPage::said);
    connect(chip_, &ChipPanel::said, this, &PartsPage::said);
    connect(harness_, &HarnessPanel::said, this, &PartsPage::said);
}

}  // namespace eh
