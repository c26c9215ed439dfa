// SPDX-License-Identifier: GPL-3.0-or-later
// The shop that the window works on: opening it, what is counted over all its jobs.
#include <QDateTime>
#include <QStatusBar>

#include "app/format/text.h"
#include "app/main_window.h"
#include "app/screens/rates/shop_rates_dialog.h"
#include "app/screens/returns/own_hits_panel.h"
#include "app/screens/returns/returns_panel.h"
#include "app/screens/rework/rework_page.h"
#include "app/screens/rework/steps_panel.h"
#include "app/screens/shelf/shelf_page.h"

namespace eh {

void MainWindow::useStore(std::unique_ptr<JobStore> store) {
    session_.close();
    session_.setStore(nullptr);
    shelf_->useStore(nullptr);
    watch_.watch(nullptr);
    store_ = std::move(store);
    recording_.keepIn(store_ == nullptr ? std::filesystem::path()
                                        : std::filesystem::path(store_->file().string() + ".traces"));
    session_.setStore(store_.get());
    if (store_ != nullptr)
        mendRights(store_->file());
    const std::string beside = store_ == nullptr ? std::string() : store_->file().string();
    shop_parts_.openFolder(beside.empty() ? std::filesystem::path()
                                          : std::filesystem::path(beside + ".parts"));
    rework_->steps().keepPhotosIn(beside.empty() ? QString() : QString::fromStdString(beside + ".photos"));
    shelf_->useStore(store_.get());
    watch_.watch(store_.get());
    countRepairs();
}

void MainWindow::showStatistics() {
    if (store_ == nullptr || shelf_tabs_->currentWidget() == shelf_)
        return;
    say(tr("Counting over all jobs …"));
    all_jobs_.start(
        [open = store_->another()](const TaskControl&) {
            auto store = open();
            return store ? (*store)->heads(JobStage::intake) : Result<std::vector<Job>>(store.error());
        },
        [this](const Result<std::vector<Job>>& jobs) { takeStatistics(jobs); });
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

void MainWindow::countRepairs() {
    if (store_ == nullptr)
        return;
    const auto repairs = store_->repairs();
    if (!repairs) {
        say(format::qt(repairs.error().text()));
        return;
    }
    repairs_ = count_repairs(knowledge_, *repairs);
    diagnosis_.setShopRates(preferences_.useShopRates() ? repairs_ : ShopRates{});
}

void MainWindow::showRates() {
    countRepairs();
    if (rates_ == nullptr) {
        rates_ = new ShopRatesDialog(knowledge_, this);
        connect(rates_, &ShopRatesDialog::useChanged, this, [this](bool use) {
            preferences_.setUseShopRates(use);
            diagnosis_.setShopRates(use ? repairs_ : ShopRates{});
            if (session_.hasJob())
                diagnosis_.ask(session_.job());
        });
    }
    rates_->show(repairs_, preferences_.useShopRates());
}

}  // namespace eh
