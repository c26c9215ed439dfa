// SPDX-License-Identifier: GPL-3.0-or-later
// The rework page as a technician uses it: steps, what came out, heat plan, conversion.
#include <QAbstractItemModelTester>
#include <QImage>

#include "app/screens/proof/battery_panel.h"
#include "app/screens/repair/repair_page.h"
#include "app/screens/rework/conversion_panel.h"
#include "app/screens/rework/heat_plan_panel.h"
#include "app/screens/rework/rework_page.h"
#include "app/screens/rework/steps_panel.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

Job rework_job(const char* topology_id = chained) {
    Job job;
    job.id = "rework-1";
    job.ticket.number = "R-1";
    job.ticket.machine = "Heron 13";
    job.ticket.topology = topology_id;
    job.stage = JobStage::repair;
    return job;
}

void type_into_field(QLineEdit& field, const QString& text) {
    field.setText(text);
    QTest::keyClick(&field, Qt::Key_Return);
}

int row_of_step(StepsPanel& steps, const std::string& id) {
    for (int row = 0; row < steps.model().rowCount(); ++row)
        if (steps.model().step(row)->id == id)
            return row;
    return -1;
}

}  // namespace

TEST_CASE("a repair brings its steps, they are ticked by key and taken back", "[app][rework]") {
    Window w;
    w.workbench.session.open(rework_job());
    w.window.go(MainWindow::RepairStation);
    find_page<RepairPage>(w.window).propose("rec2", Work::replace);
    emit find_page<RepairPage>(w.window).stepsAsked("rec2", Work::replace);
    CHECK(w.window.station() == MainWindow::ReworkStation);
    StepsPanel& steps = find_page<ReworkPage>(w.window).steps();
    REQUIRE(steps.model().rowCount() > 15);
    CHECK(w.job().rework.runs.back().repair == "receptacle_board");
    CHECK(w.job().rework.runs.back().block == "rec2");
    // The battery is the second thing that happens.
    CHECK(row_of_step(steps, "battery_off") == row_of_step(steps, "open_case") + 1);
    steps.steps().setFocus();
    const int first = steps.steps().currentIndex().row();
    w.press(Qt::Key_Return);
    CHECK(w.job().rework.runs.back().done.size() == 1);
    CHECK(steps.model().isDone(first));
    CHECK(steps.steps().currentIndex().row() == steps.model().nextRow());
    w.workbench.session.undoStack().undo();
    CHECK(w.job().rework.runs.back().done.empty());
    // What is so here changes the list.
    const int rows = steps.model().rowCount();
    REQUIRE(steps.factBox("glued") != nullptr);
    steps.factBox("glued")->click();
    CHECK(steps.model().rowCount() == rows + 1);
    CHECK(row_of_step(steps, "glue_off") < row_of_step(steps, "lift"));
    // The bench knows that the battery is in while heat is due.
    steps.steps().selectRow(row_of_step(steps, "lift"));
    CHECK(steps.about().contains("floats"));
    CHECK(steps.cautions().contains("battery is in"));
    w.workbench.session.edit("battery", [](Job& job) { job.bench.battery_in = false; });
    steps.steps().selectRow(row_of_step(steps, "lift"));
    CHECK_FALSE(steps.cautions().contains("battery is in"));
    CHECK(steps.cautions().contains("burn"));
}

TEST_CASE("what came out is typed, and closing waits for it", "[app][rework]") {
    Window w;
    w.workbench.session.open(rework_job());
    w.window.go(MainWindow::ReworkStation);
    StepsPanel& steps = find_page<ReworkPage>(w.window).steps();
    steps.propose("rec2", Work::replace);
    type_into_field(steps.openingLine(), "3 screws 4.5 mm left edge");
    type_into_field(steps.openingLine(), "fan cable");
    REQUIRE(w.job().rework.opening.size() == 2);
    CHECK(steps.closing().contains("4 of 4 pieces"));
    QStringList said;
    QObject::connect(&steps, &StepsPanel::said, [&](const QString& sentence) { said << sentence; });
    const auto tick = [&](const char* id) {
        steps.steps().selectRow(row_of_step(steps, id));
        steps.tickStep();
        return steps.model().isDone(row_of_step(steps, id));
    };
    // Connectors first: a screw that is out does not hold them up.
    CHECK_FALSE(tick("connect_all"));
    CHECK(said.last().contains("fan cable"));
    steps.openingTable().selectRow(1);
    steps.backButton().click();
    CHECK(tick("connect_all"));
    CHECK_FALSE(tick("screws_back"));
    CHECK(said.last().contains("left edge"));
    steps.openingTable().selectRow(0);
    steps.backButton().click();
    CHECK(steps.closing().contains("All 4 pieces are back"));
    CHECK(tick("screws_back"));
}

TEST_CASE("pictures come in reduced, and what is no picture is refused", "[app][rework]") {
    Window w;
    w.workbench.session.open(rework_job());
    w.window.go(MainWindow::ReworkStation);
    StepsPanel& steps = find_page<ReworkPage>(w.window).steps();
    steps.propose("rec2", Work::replace);
    QStringList said;
    QObject::connect(&steps, &StepsPanel::said, [&](const QString& sentence) { said << sentence; });
    QImage large(4000, 3000, QImage::Format_RGB32);
    large.fill(Qt::darkGreen);
    REQUIRE(large.save(w.folder.filePath("large.png")));
    steps.attach(w.folder.filePath("large.png"));
    REQUIRE(eventually([&] { return w.job().rework.photos.size() == 1; }, 20000));
    const StepPhoto photo = w.job().rework.photos.front();
    const QString kept =
        w.folder.filePath("shop.sqlite.photos/rework-1/") + QString::fromStdString(photo.file);
    const QImage reduced(kept);
    CHECK(std::max(reduced.width(), reduced.height()) == 1600);
    CHECK_FALSE(photo.step.empty());
    w.workbench.session.undoStack().undo();
    CHECK(w.job().rework.photos.empty());
    QFile text(w.folder.filePath("text.png"));
    REQUIRE(text.open(QIODevice::WriteOnly));
    text.write("no picture");
    text.close();
    steps.attach(text.fileName());
    REQUIRE(eventually([&] { return !said.isEmpty(); }, 20000));
    CHECK(said.last().contains("no picture"));
    // A picture of 200 MB: a file with a hole costs the disk nothing.
    QFile huge(w.folder.filePath("huge.jpg"));
    REQUIRE(huge.open(QIODevice::WriteOnly));
    REQUIRE(huge.resize(200LL << 20));
    huge.close();
    said.clear();
    steps.attach(huge.fileName());
    REQUIRE(eventually([&] { return !said.isEmpty(); }, 20000));
    CHECK(said.last().contains("200 MB"));
    CHECK(w.job().rework.photos.empty());
}

TEST_CASE("the heat plan follows its sliders and learns from the clock", "[app][rework]") {
    Window w;
    w.workbench.session.open(rework_job());
    w.window.go(MainWindow::ReworkStation);
    HeatPlanPanel& heat = find_page<ReworkPage>(w.window).heat();
    find_page<ReworkPage>(w.window).setCurrentWidget(&heat);
    REQUIRE(heat.plan());
    const double before = heat.plan()->lift_s.value_or(1e9);
    heat.airSlider().setValue(400);
    CHECK(heat.air().value() == 400.0);
    CHECK(heat.plan()->lift_s.value_or(1e9) < before);
    heat.preheat().setValue(100);
    heat.bestButton().click();
    CHECK(heat.plan()->possible);
    CHECK(heat.air().value() < 400.0);
    // Bismuth on lead is refused with its reason, and nothing of the old plan stays on screen.
    heat.oldSolder().setCurrentIndex(heat.oldSolder().findData("sn63pb37"));
    heat.newSolder().setCurrentIndex(heat.newSolder().findData("sn42bi58"));
    CHECK_FALSE(heat.plan());
    CHECK(heat.notes().contains("96 °C"));
    heat.newSolder().setCurrentIndex(heat.newSolder().findData("sn63pb37"));
    REQUIRE(heat.plan());
    // Too soon is no log; a real one moves the factors, is on disk, and is taken back.
    heat.airButton().click();
    heat.movedButton().click();
    CHECK(w.workbench.shop_parts.heatLogs().empty());
    StepsPanel& steps = find_page<ReworkPage>(w.window).steps();
    steps.propose("rec2", Work::replace);
    steps.steps().selectRow(row_of_step(steps, "lift"));
    heat.airButton().click();
    QTest::qWait(1200);
    heat.movedButton().click();
    // The step that was waiting for it is done, with its time.
    CHECK(steps.model().isDone(row_of_step(steps, "lift")));
    CHECK(w.job().rework.runs.back().done.back().seconds > 1.0);
    REQUIRE(w.workbench.shop_parts.heatLogs().size() == 1);
    CHECK(w.workbench.shop_parts.heatLogs().front().job == "R-1");
    CHECK(w.workbench.shop_parts.calibration().logs == 1);
    CHECK(w.workbench.shop_parts.calibration().air > 1.0);
    w.workbench.shop_parts.flush();
    CHECK(QFile::exists(w.folder.filePath("shop.sqlite.parts/heat-logs.json")));
    w.workbench.session.undoStack().undo();
    w.workbench.session.undoStack().undo();
    CHECK(w.workbench.shop_parts.calibration().logs == 0);
    heat.air().setValue(0.0);
    CHECK_FALSE(heat.plan()->possible);
}

TEST_CASE("a conversion is judged as its fields change, and stopgaps come back", "[app][rework]") {
    Window w;
    w.workbench.session.open(rework_job(barrel));
    w.window.go(MainWindow::ReworkStation);
    ConversionPanel& conversion = find_page<ReworkPage>(w.window).conversion();
    find_page<ReworkPage>(w.window).setCurrentWidget(&conversion);
    // The adapter of the kit is 90 W with an ID: a 65 W source must not promise that.
    CHECK(conversion.verdict() == "Does not work");
    CHECK(conversion.notes().contains("Fake no more"));
    conversion.idScheme().setCurrentIndex(0);
    CHECK(conversion.verdict() == "Works with limits");
    CHECK(conversion.notes().contains("look it up"));
    conversion.inputLimit().setValue(24.0);
    CHECK_FALSE(conversion.notes().contains("look it up"));
    CHECK(conversion.expected().contains("20 V, +2.6 %"));
    // A trigger set to 15 V does not stand in for 19.5; a long cable shows in what the meter should read.
    conversion.triggerVolts().setValue(15);
    CHECK(conversion.verdict() == "Does not work");
    conversion.triggerVolts().setValue(20);
    const QString with_short_cable = conversion.expected();
    conversion.cableLength().setValue(3.0);
    CHECK(conversion.expected() != with_short_cable);
    conversion.source().setText("5V 3A, 9V 3A, 15V 3A");
    conversion.sourceWatts().setValue(45);
    CHECK(conversion.verdict() == "Does not work");
    CHECK(conversion.notes().contains("need not"));
    conversion.source().setText("all the volts");
    CHECK(conversion.verdict() == "Not like this");
    conversion.stopgapButton().click();
    REQUIRE(w.workbench.shop_parts.stopgaps().size() == 1);
    CHECK(w.workbench.shop_parts.stopgaps().front().job == "R-1");
    CHECK(open_stopgaps(w.workbench.shop_parts.stopgaps()).size() == 1);
}

TEST_CASE("the battery's volts are typed, proven, and its report is taken over", "[app][battery]") {
    Window w;
    w.workbench.session.open(rework_job());
    w.window.go(MainWindow::ProofStation);
    find_tabs(w.window, "proof tabs").setCurrentIndex(1);
    BatteryPanel& battery = find_page<BatteryPanel>(w.window);
    CHECK(battery.verdict() == "Too early to tell");
    type_into_field(battery.entry(), "11.40");
    type_into_field(battery.entry(), "many");
    REQUIRE(w.job().battery.readings.size() == 1);
    // More than a pack has is not taken, and stands there to be put right.
    type_into_field(battery.entry(), "75");
    CHECK(w.job().battery.readings.size() == 1);
    CHECK(battery.entry().text() == "75");
    battery.entry().clear();
    battery.machineWatts().setValue(12.0);
    CHECK(*w.job().battery.machine_watts == 12.0);
    w.workbench.session.edit("later", [](Job& job) {
        for (int i = 1; i < 14; ++i)
            job.battery.readings.push_back(
                {job.battery.readings.front().t_s + 10.0 * i, 11.40 + 0.01 * (i / 2), true, 42.0});
    });
    CHECK(battery.verdict() == "Charging");
    CHECK(battery.says().contains("30 W"));
    CHECK(battery.time().contains("Full in"));
    battery.chargerIn().setChecked(false);
    type_into_field(battery.entry(), "11.30");
    CHECK_FALSE(w.job().battery.readings.back().charger_in);
    battery.report().setPlainText("nothing of a battery");
    battery.takeReportButton().click();
    CHECK(battery.findingsText().contains("no battery's report"));
    battery.report().setPlainText(
        "POWER_SUPPLY_STATUS=Charging\nPOWER_SUPPLY_CYCLE_COUNT=412\nPOWER_SUPPLY_VOLTAGE_MIN_DESIGN="
        "7600000\n"
        "POWER_SUPPLY_ENERGY_FULL_DESIGN=50000000\nPOWER_SUPPLY_ENERGY_FULL=37500000\nPOWER_SUPPLY_CAPACITY="
        "53\n");
    battery.takeReportButton().click();
    CHECK(battery.findingsText().contains("75 %"));
    CHECK(w.job().battery.cells == "li_hv_380");
    CHECK(w.job().battery.in_series == 2);
    CHECK(w.job().battery.capacity_wh == 37.5);
    w.workbench.session.undoStack().undo();
    CHECK(w.job().battery.capacity_wh == 50.0);
}
