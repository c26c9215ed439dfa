// SPDX-License-Identifier: GPL-3.0-or-later
// The window on low screens and at other densities; its keys on every page; its numbers.
#include <QAbstractButton>
#include <QAction>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QPlainTextEdit>
#include <QProcess>
#include <QScreen>
#include <QTabWidget>
#include <set>

#include "app/screens/bench/bench_page.h"
#include "app/screens/board/board_page.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("the window works at twice the pixel density and at its smallest", "[app]") {
    Window w;
    w.window.resize(1280, 800);
    w.window.newTicket();
    w.press(Qt::Key_Down);
    w.press(Qt::Key_Return);
    QCoreApplication::processEvents();
    // The bench must fit without scroll bars of the page.
    CHECK(find_page<BenchPage>(w.window).minimumSizeHint().width() <= 1280 - 92);
    CHECK(find_page<BenchPage>(w.window).minimumSizeHint().height() <= 800 - 64 - 24);
    CHECK(w.window.minimumSizeHint().width() <= 1280);
    CHECK(w.window.minimumSizeHint().height() <= 800);
}

TEST_CASE("the window can be made small enough for a low screen", "[app][window]") {
    // 1366 by 768 less what a desktop's panel takes: a common screen of old bench machines.
    const QSize low(1200, 740);
    Window w;
    const QSize least = w.window.minimumSizeHint();
    CAPTURE(least.width(), least.height());
    CHECK(least.boundedTo(low) == least);
}

TEST_CASE("no screen writes a number in a way of its own", "[app][locale]") {
    // Qt's own way from a double to text has its own decimal mark; what the screens are made of must not
    // call it. Read off the symbols, since a call looks like any other.
    QProcess nm;
    nm.start("nm", {"--undefined-only", "--demangle", EH_APP_LIBRARY});
    REQUIRE(nm.waitForFinished(60000));
    const QString symbols = QString::fromUtf8(nm.readAllStandardOutput());
    REQUIRE(symbols.contains("QString::arg("));
    for (const char* own : {"QString::arg(double", "QString::number(double", "QString::setNum(double",
                            "QLocale::toString(double"}) {
        CAPTURE(own);
        CHECK_FALSE(symbols.contains(own));
    }
}

TEST_CASE("every page fits a low screen: 1024 x 640, nothing beyond the window's edge", "[app][low]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    w.window.go(MainWindow::BoardStation);
    REQUIRE(find_page<BoardPage>(w.window).openFile(EH_SOURCE_DIR "/data/boards/demo-board.json").ok());
    w.window.resize(1024, 640);
    QTest::qWait(50);
    for (int station = 0; station < MainWindow::StationCount; ++station) {
        w.window.go(static_cast<MainWindow::Station>(station));
        const auto check_page = [&](const QString& tab) {
            QTest::qWait(20);
            CAPTURE(station, tab.toStdString());
            CHECK(w.window.size() == QSize(1024, 640));
            for (const QAbstractButton* button : w.window.findChildren<QAbstractButton*>()) {
                // What scrolls may lie outside until it is scrolled to.
                bool scrolls = false;
                for (const QWidget* up = button->parentWidget(); up != nullptr; up = up->parentWidget())
                    scrolls = scrolls || qobject_cast<const QAbstractScrollArea*>(up) != nullptr;
                if (!button->isVisible() || scrolls || button->window() != &w.window)
                    continue;
                const QRect place(button->mapTo(&w.window, QPoint()), button->size());
                CAPTURE(button->text().toStdString());
                CHECK(w.window.rect().contains(place));
            }
        };
        check_page({});
        for (QTabWidget* tabs : w.window.findChildren<QTabWidget*>()) {
            for (int t = 0; tabs->isVisible() && t < tabs->count(); ++t) {
                tabs->setCurrentIndex(t);
                check_page(tabs->tabText(t));
            }
        }
    }
}

TEST_CASE("the window opens no larger than the screen leaves room for", "[app][low]") {
    const QRect room = QGuiApplication::primaryScreen()->availableGeometry();
    Preferences().setGeometry({});
    {
        Window w;
        w.window.resize(room.width() + 700, room.height() + 700);
        w.window.close();
    }
    REQUIRE_FALSE(Preferences().geometry().isEmpty());
    const Window again;
    // The least that it can do with is more than the little screen of the tests has across.
    const QSize least = again.window.minimumSizeHint();
    CHECK(again.window.width() <= std::max(room.width(), least.width()));
    CHECK(again.window.height() <= std::max(room.height(), least.height()));
}

TEST_CASE("no two things in sight answer to one Alt key", "[app][keys]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    w.window.go(MainWindow::BoardStation);
    REQUIRE(find_page<BoardPage>(w.window).openFile(EH_SOURCE_DIR "/data/boards/demo-board.json").ok());
    const auto check_page = [&](int station, const QString& tab) {
        QTest::qWait(20);
        std::map<QString, QStringList> by_key;
        const auto note = [&](const QString& text) {
            const QString key = QKeySequence::mnemonic(text).toString();
            if (!key.isEmpty())
                by_key[key] += text;
        };
        for (const QAction* action : w.window.menuBar()->actions())
            note(action->text());
        for (const QAbstractButton* button : w.window.findChildren<QAbstractButton*>())
            // Also what is disabled just now: when it wakes depends on what the machine has computed so far.
            if (button->isVisible())
                note(button->text());
        for (const QLabel* label : w.window.findChildren<QLabel*>())
            if (label->isVisible() && label->buddy() != nullptr)
                note(label->text());
        for (const QTabBar* bar : w.window.findChildren<QTabBar*>())
            for (int t = 0; bar->isVisible() && t < bar->count(); ++t)
                note(bar->tabText(t));
        for (const auto& [key, texts] : by_key) {
            CAPTURE(station, tab.toStdString(), key.toStdString(), texts.join(" | ").toStdString());
            CHECK(texts.size() == 1);
        }
    };
    for (int station = 0; station < MainWindow::StationCount; ++station) {
        w.window.go(static_cast<MainWindow::Station>(station));
        check_page(station, {});
        for (QTabWidget* tabs : w.window.findChildren<QTabWidget*>()) {
            for (int t = 0; tabs->isVisible() && t < tabs->count(); ++t) {
                tabs->setCurrentIndex(t);
                check_page(station, tabs->tabText(t));
            }
        }
    }
}

TEST_CASE("keys of the strip reach it from every page that is just opened", "[app][keys]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    for (const auto station :
         {MainWindow::BenchStation, MainWindow::InstrumentsStation, MainWindow::TalkStation,
          MainWindow::TraceStation, MainWindow::ReworkStation}) {
        w.window.go(station);
        QTest::qWait(20);
        const bool before = w.job().bench.charger_connected;
        CAPTURE(static_cast<int>(station));
        QTest::keyClick(QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : &w.window,
                        Qt::Key_K);
        CHECK(w.job().bench.charger_connected != before);
    }
    // The key that leads into the quick line is no text of it.
    w.press(Qt::Key_Slash);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Slash);
    auto* field = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    REQUIRE(field != nullptr);
    CHECK(field->text().isEmpty());
}
