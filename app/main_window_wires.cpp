// SPDX-License-Identifier: GPL-3.0-or-later
// What the parts of the window tell each other.
#include <QStatusBar>

#include "app/main_window.h"
#include "app/screens/bench/bench_page.h"
#include "app/screens/board/board_page.h"
#include "app/screens/board/heat_panel.h"
#include "app/screens/check/check_page.h"
#include "app/screens/handover/handover_page.h"
#include "app/screens/instruments/instruments_page.h"
#include "app/screens/instruments/supply_panel.h"
#include "app/screens/intake/intake_page.h"
#include "app/screens/machine/machine_dialog.h"
#include "app/screens/machine/own_machines_dialog.h"
#include "app/screens/parts/parts_page.h"
#include "app/screens/parts/stock_panel.h"
#include "app/screens/proof/battery_panel.h"
#include "app/screens/proof/proof_page.h"
#include "app/screens/quote/quote_panel.h"
#include "app/screens/rates/shop_rates_dialog.h"
#include "app/screens/repair/repair_page.h"
#include "app/screens/returns/own_hits_panel.h"
#include "app/screens/returns/returns_panel.h"
#include "app/screens/rework/rework_page.h"
#include "app/screens/rework/steps_panel.h"
#include "app/screens/shelf/shelf_page.h"
#include "app/screens/talk/talk_page.h"
#include "app/screens/trace/trace_page.h"
#include "app/widgets/station_button.h"

namespace eh {

void MainWindow::wire() {
    wireShop();
    wirePages();
    if (workbench_.preferences.supplyMayBeOn())
        say(workbench_.supply.why_off());
}

void MainWindow::wireShop() {
    connect(&workbench_, &Workbench::said, this, &MainWindow::say);
    connect(&workbench_, &Workbench::unsavedChanged, this, &MainWindow::showUnsaved);
    connect(&workbench_.session, &JobSession::changed, this, &MainWindow::showNumber);
    connect(&workbench_.repository, &JobRepository::shopChanged, this, &MainWindow::shopChanged);
    connect(&workbench_.watch, &ShopWatch::stateChanged, store_state_, &QLabel::setText);
    connect(&workbench_.watch, &ShopWatch::shelfChanged, this, [this] {
        if (station() == ShelfStation)
            shelf_->refresh();
    });
    connect(shelf_, &ShelfPage::jobChosen, this, &MainWindow::openJob);
    connect(shelf_, &ShelfPage::newTicketAsked, this, &MainWindow::newTicket);
    connect(shelf_, &ShelfPage::importAsked, this, &MainWindow::importAsked);
    connect(shelf_, &ShelfPage::demoAsked, this, &MainWindow::demoAsked);
    connect(shelf_, &ShelfPage::said, this, &MainWindow::say);
    connect(shelf_tabs_, &QTabWidget::currentChanged, this, &MainWindow::showStatistics);
}

void MainWindow::wirePages() {
    connect(board_, &BoardPage::said, this, &MainWindow::say);
    connect(board_, &BoardPage::supplyAsked, this,
            [this](const QString& net, double volts, double limit_amps) {
                go(InstrumentsStation);
                instruments_->supplyPanel().set(net, volts, limit_amps);
                say(tr("Set, not on: switch the output on when the leads are where they belong."));
            });
    connect(trace_, &TracePage::said, this, &MainWindow::say);
    connect(instruments_, &InstrumentsPage::said, this, &MainWindow::say);
    connect(instruments_, &InstrumentsPage::meterAsked, this, &MainWindow::connectMeter);
    connect(instruments_, &InstrumentsPage::multimeterAsked, this, &MainWindow::connectMultimeter);
    connect(instruments_, &InstrumentsPage::supplyAsked, this, &MainWindow::connectSupply);
    connect(instruments_, &InstrumentsPage::injectionAsked, this, [this](const QString& line) {
        go(BenchStation);
        bench_->quickLine().start(line);
        say(tr("Add the hottest part and its rise, or none."));
    });
    connect(intake_, &IntakePage::technicianNamed, this,
            [this](const QString& name) { workbench_.preferences.setTechnician(name); });
    connect(intake_, &IntakePage::benchAsked, this, [this] { go(BenchStation); });
    connect(bench_, &BenchPage::warned, strip_, &BenchStrip::setWarning);
    connect(bench_, &BenchPage::said, this, &MainWindow::say);
    connect(bench_, &BenchPage::designAsked, this, &MainWindow::showDesign);
    connect(bench_, &BenchPage::hourAsked, this, &MainWindow::showHour);
    connect(&workbench_.design, &DesignService::kindsWeighed, bench_, &BenchPage::showKinds);
    connect(bench_, &BenchPage::talkAsked, this, [this] {
        go(TalkStation);
        say(tr("The bench is set: record, or open the capture of this port, then take it as a reading."));
    });
    connect(bench_, &BenchPage::repairAsked, this, [this](const std::string& block, Work remedy) {
        go(RepairStation);
        repair_->propose(block, remedy);
    });
    connect(repair_, &RepairPage::said, this, &MainWindow::say);
    connect(repair_, &RepairPage::stepsAsked, this, [this](const std::string& block, Work remedy) {
        rework_->setCurrentWidget(&rework_->steps());
        go(ReworkStation);
        rework_->steps().propose(block, remedy);
    });
    connect(rework_, &ReworkPage::said, this, &MainWindow::say);
    connect(parts_page_, &PartsPage::said, this, &MainWindow::say);
    connect(repair_, &RepairPage::proofAsked, this, [this] { go(ProofStation); });
    connect(proof_, &ProofPage::said, this, &MainWindow::say);
    connect(battery_, &BatteryPanel::said, this, &MainWindow::say);
    connect(proof_, &ProofPage::batteryAsked, this, [this] { proof_tabs_->setCurrentWidget(battery_); });
    connect(proof_, &ProofPage::handoverAsked, this, [this] { go(HandoverStation); });
    connect(handover_, &HandoverPage::said, this, &MainWindow::say);
    connect(quote_, &QuotePanel::said, this, &MainWindow::say);
    connect(talk_, &TalkPage::said, this, &MainWindow::say);
    connect(talk_, &TalkPage::benchAsked, this, [this] { go(BenchStation); });
}

}  // namespace eh
