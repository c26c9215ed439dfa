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

void MainWindow::shopChanged() {
    const bool open = repository_.hasShop();
    const std::string beside = open ? repository_.shop().file.string() : std::string();
    const auto folder = [&](const char* tail) { return open ? beside + tail : std::string(); };
    recording_.keepIn(folder(".traces"));
    if (open)
        mendRights(beside);
    shop_parts_.openFolder(folder(".parts"));
    rework_->steps().keepPhotosIn(format::qt(folder(".photos")));
    shelf_->refresh();
    countRepairs();
}

void MainWindow::showStatistics() {
    if (!repository_.hasShop() || shelf_tabs_->currentWidget() == shelf_)
        return;
    say(tr("Counting over all jobs …"));
    repository_.ask<JobStore::Opener>(
        view_asked_, [](JobStore& store) { return store.another(); },
        [this](const JobStore::Opener& open) { countOver(open); });
}

void MainWindow::countOver(const JobStore::Opener& open) {
    all_jobs_.start(
        [open](const TaskControl&) {
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

void MainWindow::countRepairs(std::function<void()> then) {
    repository_.ask<Result<std::vector<ConfirmedRepair>>>(
        repairs_asked_, [](JobStore& store) { return store.repairs(); },
        [this, then = std::move(then)](const Result<std::vector<ConfirmedRepair>>& repairs) {
            if (!repairs) {
                say(format::qt(repairs.error().text()));
                return;
            }
            repairs_ = count_repairs(knowledge_, *repairs);
            diagnosis_.setShopRates(preferences_.useShopRates() ? repairs_ : ShopRates{});
            if (then)
                then();
        });
}

void MainWindow::countJobs(const std::vector<std::string>& topologies,
                           std::function<void(const std::vector<Result<int>>&)> answer) {
    if (!repository_.hasShop()) {
        answer(std::vector<Result<int>>(topologies.size(), Result<int>(0)));
        return;
    }
    auto asking = std::make_shared<Asking>();  // lives until it is answered
    repository_.ask<std::vector<Result<int>>>(
        *asking,
        [topologies](JobStore& store) {
            std::vector<Result<int>> counts;
            for (const std::string& topology : topologies)
                counts.push_back(store.jobs_on(topology));
            return counts;
        },
        [asking, answer = std::move(answer)](const std::vector<Result<int>>& counts) { answer(counts); });
}

void MainWindow::showRates() {
    countRepairs([this] { openRates(); });
}

void MainWindow::openRates() {
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
