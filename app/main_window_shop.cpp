// SPDX-License-Identifier: GPL-3.0-or-later
// The shop that the window works on: opening it, what is counted over all its jobs.
#include <QDateTime>
#include <QStatusBar>

#include "app/format/text.h"
#include "app/main_window.h"
#include "app/screens/bench/design_dialog.h"
#include "app/screens/bench/hour_dialog.h"
#include "app/screens/rates/shop_rates_dialog.h"
#include "app/screens/returns/own_hits_panel.h"
#include "app/screens/returns/returns_panel.h"
#include "app/screens/rework/rework_page.h"
#include "app/screens/rework/steps_panel.h"
#include "app/screens/shelf/shelf_page.h"

namespace eh {

void MainWindow::shopChanged() {
    const JobRepository& repository = workbench_.repository;
    rework_->steps().keepPhotosIn(
        repository.hasShop() ? format::qt(repository.shop().file.string() + ".photos") : QString());
    shelf_->refresh();
}

void MainWindow::showStatistics() {
    if (!workbench_.repository.hasShop() || shelf_tabs_->currentWidget() == shelf_)
        return;
    say(tr("Counting over all jobs …"));
    workbench_.readAllJobs([this](const Result<std::vector<Job>>& jobs) { takeStatistics(jobs); });
}

void MainWindow::takeStatistics(const Result<std::vector<Job>>& jobs) {
    if (!jobs) {
        say(format::qt(jobs.error().text()));
        return;
    }
    returns_->show(*jobs, QDateTime::currentMSecsSinceEpoch());
    own_hits_->show(*jobs);
    statusBar()->clearMessage();
}

void MainWindow::showRates() {
    workbench_.countRepairs([this] { openRates(); });
}

void MainWindow::showDesign() {
    if (design_ == nullptr)
        design_ = new DesignDialog(workbench_.session, workbench_.diagnosis, workbench_.design,
                                   workbench_.knowledge, this);
    design_->present();
}

void MainWindow::showHour() {
    if (hour_ == nullptr) {
        hour_ = new HourDialog(workbench_.session, workbench_.diagnosis, this);
        connect(hour_, &HourDialog::begun, bench_, &BenchPage::begin);
    }
    hour_->present();
}

void MainWindow::openRates() {
    if (rates_ == nullptr) {
        rates_ = new ShopRatesDialog(workbench_.knowledge, this);
        connect(rates_, &ShopRatesDialog::useChanged, this,
                [this](bool use) { workbench_.useShopRates(use); });
    }
    rates_->show(workbench_.repairs(), workbench_.preferences.useShopRates());
}

}  // namespace eh
