// SPDX-License-Identifier: GPL-3.0-or-later
// A main window over a shop file of its own, and ways to act on it as a person does.
#pragma once

#include <QApplication>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/find_page.h"
#include "app/screens/bench/bench_page.h"
#include "app/shop_file.h"
#include "app/style/theme.h"
#include "tests/support/event_loop.h"
#include "tests/support/kept_predictions.h"
#include "tests/support/rework.h"
#include "tests/support/shop.h"

namespace eh::test {

// eager-hound-sim as a process of its own: meter, multimeter and supply at one machine, or the meter alone.
class BenchProcess {
  public:
    enum class What { bench, meter };

    explicit BenchProcess(const QStringList& arguments, What what = What::bench) {
        const bool all = what == What::bench;
        process_.start(EH_SIM, QStringList{all ? "bench" : "meter"} + arguments);
        REQUIRE(process_.waitForStarted());
        while (addresses_.size() < (all ? 3 : 1)) {
            while (!process_.canReadLine())
                REQUIRE(process_.waitForReadyRead(10000));
            addresses_ << QString::fromUtf8(process_.readLine()).trimmed().section(' ', -1);
        }
    }
    ~BenchProcess() {
        process_.kill();
        process_.waitForFinished();
    }
    [[nodiscard]] QString address() const { return addresses_[0]; }  // of the meter
    [[nodiscard]] QString multimeter() const { return addresses_[1]; }
    [[nodiscard]] QString supply() const { return addresses_[2]; }

  private:
    QProcess process_;
    QStringList addresses_;
};

// Opens a shop file as the program does at its start, and waits until it is open or refused.
inline Outcome shop_opened(JobRepository& repository, const std::filesystem::path& file,
                           const OfferCopy& offer, const WaitForLock& wait = {}) {
    std::optional<Outcome> outcome;
    open_shop(repository, file, offer, wait, [&](const Outcome& opened) { outcome = opened; });
    REQUIRE(eventually([&] { return outcome.has_value(); }, 60000));
    return *outcome;
}

struct Window {
    // The style comes before the window that is measured with it.
    const bool styled = [] {
        theme::apply(*qApp);
        return true;
    }();
    QTemporaryDir folder;
    Workbench workbench{shipped_knowledge(), shipped_costs(), rework()};
    MainWindow window{workbench};
    int keys = 0;

    Window() {
        workbench.diagnosis.keepPredictionsIn(kept_predictions());
        // The screens are looked at here, not how near the truth the figures are.
        PredictionOptions coarse;
        coarse.many_designs = 2 * coarse.few_designs();
        workbench.diagnosis.drawAs(coarse);
        workbench.repository.open([file = shopFile()] { return JobStore::open(file); },
                                  [](const Outcome&) {});
        wait_for_store();
        REQUIRE(workbench.repository.hasShop());
        window.show();
        REQUIRE(QTest::qWaitForWindowExposed(&window));
        window.activateWindow();
        // Shortcuts reach only an active window; the offscreen platform makes it one at once.
        (void)QTest::qWaitForWindowActive(&window, 2000);
    }

    ~Window() {
        const auto engine = workbench.diagnosis.answer().engine;
        if (engine != nullptr && !engine->taught)
            leave_predictions(*engine->reasoner.store());
    }
    Window(const Window&) = delete;
    Window& operator=(const Window&) = delete;

    [[nodiscard]] std::filesystem::path shopFile() const {
        return folder.filePath("shop.sqlite").toStdString();
    }

    // Waits until everything that was entered is written or refused, and everything asked is answered.
    void wait_for_store() {
        REQUIRE(eventually([&] { return workbench.repository.idle(); }, 60000));
    }
    // Does something with the window's own store, where it lives, after all that was entered before.
    template <typename Work>
    auto on_store(Work work) -> decltype(work(std::declval<JobStore&>())) {
        using T = decltype(work(std::declval<JobStore&>()));
        Asking asking;
        std::optional<T> given;
        workbench.repository.ask<T>(asking, work, [&](T answer) { given.emplace(std::move(answer)); });
        REQUIRE(eventually([&] { return !asking.open(); }, 60000));
        return std::move(given).value();
    }
    void put(const Job& job) {
        REQUIRE(on_store([job](JobStore& store) { return store.save(job); }).ok());
    }
    // As it stands in the shop.
    [[nodiscard]] Job stored(const std::string& id) {
        auto job = on_store([id](JobStore& store) { return store.peek(id); });
        REQUIRE(job.ok());
        return *job;
    }
    void open_job(const std::string& id) {
        window.openJob(id);
        wait_for_store();
    }
    Outcome import_job(const QString& file) {
        return told([&](auto done) { window.importJob(file, done); });
    }
    // Begins something that tells in the end how it went, and waits for that.
    template <typename Begin>
    Outcome told(Begin begin) {
        std::optional<Outcome> outcome;
        begin([&](const Outcome& told) { outcome = told; });
        REQUIRE(eventually([&] { return outcome.has_value(); }, 60000));
        return *outcome;
    }

    // Presses a key where the keyboard is, as a person would, and counts it.
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        ++keys;
        QWidget* target = window.focusWidget() != nullptr ? window.focusWidget() : &window;
        QTest::keyClick(target, key, modifiers);
        QCoreApplication::processEvents();
    }
    void type(const QString& text) {
        for (const QChar c : text) {
            ++keys;
            QWidget* target = window.focusWidget() != nullptr ? window.focusWidget() : &window;
            QTest::keyClick(target, c.toLatin1());
        }
        QCoreApplication::processEvents();
    }
    // Types a reading on the quick line.
    void quick(const QString& line) {
        press(Qt::Key_Slash);
        type(line);
        press(Qt::Key_Return);
        press(Qt::Key_Escape);
    }
    [[nodiscard]] const Job& job() { return workbench.session.job(); }

    // Waits until the reasoning has answered everything asked so far.
    void settle() {
        REQUIRE(eventually([&] { return !workbench.diagnosis.busy(); }, 120000));
    }
    [[nodiscard]] double suspicion(const std::string& block) {
        for (const PartSuspicion& part : workbench.diagnosis.answer().ranking.parts) {
            if (part.block == block && part.kind == HypothesisKind::fault)
                return part.probability;
        }
        return 0.0;
    }
};

}  // namespace eh::test
