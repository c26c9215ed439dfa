// SPDX-License-Identifier: GPL-3.0-or-later
// A main window over a shop file of its own, and ways to act on it as a person does.
#pragma once

#include <QApplication>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/main_window.h"
#include "app/screens/bench/bench_page.h"
#include "app/style/theme.h"
#include "tests/support/event_loop.h"
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

struct Window {
    // The style comes before the window that is measured with it.
    const bool styled = [] {
        theme::apply(*qApp);
        return true;
    }();
    QTemporaryDir folder;
    MainWindow window{shipped_knowledge(), shipped_costs(), rework()};
    int keys = 0;

    Window() {
        auto store = JobStore::open(folder.filePath("shop.sqlite").toStdString());
        REQUIRE(store.ok());
        window.useStore(std::move(store).value());
        window.show();
        REQUIRE(QTest::qWaitForWindowExposed(&window));
        window.activateWindow();
        // Shortcuts reach only an active window; the offscreen platform makes it one at once.
        (void)QTest::qWaitForWindowActive(&window, 2000);
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
    [[nodiscard]] const Job& job() { return window.session().job(); }

    // Waits until the reasoning has answered everything asked so far.
    void settle() {
        REQUIRE(eventually([&] { return !window.diagnosis().busy(); }, 120000));
    }
    [[nodiscard]] double suspicion(const std::string& block) {
        for (const PartSuspicion& part : window.diagnosis().answer().ranking.parts) {
            if (part.block == block && part.kind == HypothesisKind::fault)
                return part.probability;
        }
        return 0.0;
    }
};

}  // namespace eh::test
