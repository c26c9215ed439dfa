// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tools/rework_shots.h"

#include <QElapsedTimer>
#include <QImage>
#include <QPainter>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <cstdio>

#include "app/main_window.h"
#include "app/screens/handover/handover_page.h"
#include "app/screens/parts/capacitor_panel.h"
#include "app/screens/parts/chip_panel.h"
#include "app/screens/parts/harness_panel.h"
#include "app/screens/parts/inlet_panel.h"
#include "app/screens/parts/overlay_drawing.h"
#include "app/screens/parts/parts_page.h"
#include "app/screens/parts/resistor_panel.h"
#include "app/screens/parts/stock_panel.h"
#include "app/screens/proof/battery_panel.h"
#include "app/screens/quote/quote_panel.h"
#include "app/screens/repair/repair_page.h"
#include "app/screens/returns/returns_panel.h"
#include "app/screens/rework/conversion_panel.h"
#include "app/screens/rework/heat_plan_panel.h"
#include "app/screens/rework/rework_page.h"
#include "app/screens/rework/steps_panel.h"
#include "app/screens/shelf/shelf_page.h"
#include "app/style/theme.h"
#include "app/tools/waiting.h"

namespace {

constexpr int settle_ms = 200;

bool shoot(eh::MainWindow& window, const QString& folder, const char* name) {
    QTest::qWait(settle_ms);
    const bool saved = window.grab().save(folder + "/" + name + ".png");
    std::printf("%s %s\n", name, saved ? "taken" : "could not be written");
    return saved;
}

void type_line(QLineEdit& field, const QString& text) {
    field.setText(text);
    QTest::keyClick(&field, Qt::Key_Return);
}

// A made-up picture: no machine of anybody's.
QString drawn_picture(const QTemporaryDir& folder) {
    QImage image(640, 420, QImage::Format_RGB32);
    image.fill(QColor(40, 84, 66));
    QPainter painter(&image);
    painter.setPen(QPen(QColor(190, 190, 180), 6));
    painter.setBrush(QColor(120, 124, 128));
    painter.drawRoundedRect(220, 110, 200, 150, 12, 12);
    for (int i = 0; i < 12; ++i)
        painter.fillRect(232 + 15 * i, 270, 8, 34, QColor(214, 190, 120));
    painter.end();
    QString path = folder.filePath("inlet.png");
    (void)image.save(path);
    return path;
}

bool shoot_rework(eh::MainWindow& window, const QString& folder) {
    open_job(window, "demo-2");
    window.go(eh::MainWindow::ReworkStation);
    eh::ReworkPage& page = find_page<eh::ReworkPage>(window);
    eh::StepsPanel& steps = page.steps();
    page.setCurrentWidget(&steps);
    steps.propose("rec2", eh::Work::replace);
    window.workbench().session.edit("strip", [](eh::Job& job) { job.bench.battery_in = false; });
    for (const char* line : {"8 screws 3 mm bottom edge", "2 screws 5.5 mm under the feet", "battery cable",
                             "fan cable", "display cable"})
        type_line(steps.openingLine(), line);
    const QTemporaryDir pictures;
    for (int i = 0; i < 6; ++i)
        steps.tickStep();
    steps.attach(drawn_picture(pictures));
    QTest::qWait(settle_ms);
    for (int i = 0; i < 5; ++i)
        steps.tickStep();
    bool good = shoot(window, folder, "steps");
    page.setCurrentWidget(&page.heat());
    page.heat().preheat().setValue(100);
    page.heat().bestButton().click();
    good &= shoot(window, folder, "heat-plan");
    open_job(window, "demo-4");
    window.go(eh::MainWindow::ReworkStation);
    page.setCurrentWidget(&page.conversion());
    page.conversion().inputLimit().setValue(24);
    page.conversion().sourceWatts().setValue(65);
    good &= shoot(window, folder, "conversion");
    return good;
}

void choose_job(eh::MainWindow& window, const char* id) {
    QTableView& table = find_page<eh::ShelfPage>(window).table();
    for (int row = 0; row < table.model()->rowCount(); ++row) {
        if (table.model()->index(row, 0).data(eh::ShelfModel::IdRole).toString() == id)
            table.setCurrentIndex(table.model()->index(row, 0));
    }
}

bool shoot_shop(eh::MainWindow& window, const QString& folder) {
    open_job(window, "demo-5");
    window.go(eh::MainWindow::ProofStation);
    find_tabs(window, "proof tabs").setCurrentIndex(1);
    window.workbench().session.edit("battery", [](eh::Job& job) {
        job.battery.cells = "li_hv_380";
        job.battery.in_series = 2;
        job.battery.capacity_wh = 46.0;
        job.battery.machine_watts = 11.0;
        for (int i = 0; i < 16; ++i)
            job.battery.readings.push_back({1.0e9 + 12.0 * i, 7.93 + 0.01 * std::floor(i / 3.0), true, 41.0});
        job.battery.readings.push_back({1.0e9 + 200.0, 7.86, false, std::nullopt});
    });
    find_page<eh::BatteryPanel>(window).report().setPlainText(
        "POWER_SUPPLY_STATUS=Charging\nPOWER_SUPPLY_CYCLE_COUNT=412\nPOWER_SUPPLY_VOLTAGE_MIN_DESIGN="
        "7600000\n"
        "POWER_SUPPLY_ENERGY_FULL_DESIGN=56000000\nPOWER_SUPPLY_ENERGY_FULL=46000000\nPOWER_SUPPLY_POWER_NOW="
        "28400000\n"
        "POWER_SUPPLY_CAPACITY=61\nPOWER_SUPPLY_CHARGE_CONTROL_END_THRESHOLD=80\n");
    find_page<eh::BatteryPanel>(window).takeReportButton().click();
    bool good = shoot(window, folder, "battery");
    find_tabs(window, "proof tabs").setCurrentIndex(0);
    open_job(window, "demo-3");
    QElapsedTimer clock;
    clock.start();
    constexpr int longest_ms = 60000;
    QTest::qWait(settle_ms);
    while (window.workbench().diagnosis.busy() && clock.elapsed() < longest_ms)
        QTest::qWait(50);
    window.go(eh::MainWindow::HandoverStation);
    find_tabs(window, "handover tabs").setCurrentIndex(1);
    find_page<eh::QuotePanel>(window).worth().setValue(260);
    good &= shoot(window, folder, "quote");
    find_tabs(window, "handover tabs").setCurrentIndex(0);
    open_job(window, "demo-6");
    good &= shoot(window, folder, "handover");
    find_page<eh::HandoverPage>(window).reader().setCurrentIndex(1);
    good &= shoot(window, folder, "handover-technician");
    find_page<eh::HandoverPage>(window).reader().setCurrentIndex(0);
    open_job(window, "demo-3");
    window.go(eh::MainWindow::IntakeStation);
    good &= shoot(window, folder, "intake");
    window.go(eh::MainWindow::ShelfStation);
    choose_job(window, "demo-2");
    good &= shoot(window, folder, "shelf");
    find_tabs(window, "shelf tabs").setCurrentIndex(2);
    good &= shoot(window, folder, "own-record");
    find_tabs(window, "shelf tabs").setCurrentIndex(1);
    find_page<eh::ReturnsPanel>(window).grouping().setCurrentIndex(2);
    good &= shoot(window, folder, "returns");
    find_tabs(window, "shelf tabs").setCurrentIndex(0);
    return good;
}

bool shoot_parts(eh::MainWindow& window, const QString& folder) {
    window.go(eh::MainWindow::PartsStation);
    eh::PartsPage& page = find_page<eh::PartsPage>(window);
    page.setCurrentWidget(&page.stock());
    page.stock().search().setText("25V");
    bool good = shoot(window, folder, "stock");
    page.setCurrentWidget(&page.inlet());
    QTest::qWait(settle_ms);
    emit page.inlet().drawing().padClicked("A5");
    good &= shoot(window, folder, "inlet");
    page.setCurrentWidget(&page.capacitor());
    good &= shoot(window, folder, "capacitor");
    page.setCurrentWidget(&page.resistor());
    page.resistor().marking().setText("68X");
    good &= shoot(window, folder, "resistor");
    page.setCurrentWidget(&page.chip());
    page.chip().fromBoard().setText("Heron 13 main");
    page.chip().fromPosition().setText("UP2");
    page.chip().toBoard().setText("Heron 13 main");
    page.chip().toPosition().setText("UP1");
    good &= shoot(window, folder, "chip");
    page.setCurrentWidget(&page.harness());
    for (const char* line :
         {"1 outer ok", "2 outer ok", "3 outer ok", "4 outer open", "4 inner open", "4 centre open",
          "5 inner ok", "6-5 ok", "7 inner ok", "8 centre ok", "8 centre open pushed", "8 outer open pushed",
          "8 inner open pushed", "6 inner open"})
        type_line(page.harness().entry(), line);
    page.harness().replacement().setText("outer outer outer none inner inner centre inner");
    good &= shoot(window, folder, "harness");
    return good;
}

}  // namespace

bool take_rework_shots(eh::MainWindow& window, const QString& folder) {
    const bool rework = shoot_rework(window, folder) && shoot_shop(window, folder);
    return shoot_parts(window, folder) && rework;
}
