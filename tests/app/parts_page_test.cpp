// SPDX-License-Identifier: GPL-3.0-or-later
// The parts page: stock, inlets, capacitors, resistors, chips, harnesses, and the shop's files behind them.
#include <QAbstractItemModelTester>
#include <QFileDevice>

#include "app/models/opening_model.h"
#include "app/models/steps_model.h"
#include "app/screens/parts/capacitor_panel.h"
#include "app/screens/parts/chip_panel.h"
#include "app/screens/parts/harness_panel.h"
#include "app/screens/parts/inlet_panel.h"
#include "app/screens/parts/overlay_drawing.h"
#include "app/screens/parts/parts_page.h"
#include "app/screens/parts/resistor_panel.h"
#include "app/screens/parts/stock_panel.h"
#include "core/base/files.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

// A window over the demo shop's stock.
struct StockedWindow : Window {
    StockedWindow() {
        const auto parts = std::filesystem::path(folder.path().toStdString()) / "stocked.parts";
        std::filesystem::create_directories(parts);
        for (const char* name : {"stock.json", "donor-results.json"})
            std::filesystem::copy(std::filesystem::path(EH_SOURCE_DIR) / "data/demo-shop" / name,
                                  parts / name);
        window.workbench().shop_parts.openFolder(parts);
        window.go(MainWindow::PartsStation);
    }
    PartsPage& page() { return find_page<PartsPage>(window); }
};

void enter_line(QLineEdit& field, const QString& text) {
    field.setText(text);
    QTest::keyClick(&field, Qt::Key_Return);
}

}  // namespace

TEST_CASE("the stock is searched, changed in place, ordered and used up", "[app][parts]") {
    StockedWindow w;
    StockPanel& stock = w.page().stock();
    const int all = stock.model().rowCount();
    REQUIRE(all > 60);
    stock.search().setText("4k7");
    REQUIRE(stock.model().rowCount() >= 1);
    CHECK(*stock.model().part(0)->value == 4700.0);
    stock.search().setText("10u 50V");
    REQUIRE(stock.model().rowCount() == 1);
    const std::string id = stock.model().part(0)->id;
    const int count = stock.model().part(0)->count;
    REQUIRE(count > 0);
    stock.table().selectRow(0);
    stock.takeButton().click();
    CHECK(w.workbench.shop_parts.stock().find(id)->count == count - 1);
    w.workbench.session.undoStack().undo();
    CHECK(w.workbench.shop_parts.stock().find(id)->count == count);
    const auto set = [&](int column, const QString& text) {
        return stock.model().setData(stock.model().index(0, column), text, Qt::EditRole);
    };
    QStringList refused;
    QObject::connect(&stock, &StockPanel::said, [&](const QString& sentence) { refused << sentence; });
    CHECK(set(StockModel::RatingColumn, "63 V"));
    CHECK(*w.workbench.shop_parts.stock().find(id)->volts == 63.0);
    CHECK_FALSE(set(StockModel::CountColumn, "-2"));
    CHECK_FALSE(set(StockModel::ValueColumn, "ten"));
    CHECK(refused.size() == 2);
    // An order for the open job parks it; what arrives is counted in.
    Job job;
    job.id = "p1";
    job.ticket.number = "P-77";
    job.ticket.topology = barrel;
    w.workbench.session.open(job);
    w.window.go(MainWindow::PartsStation);
    stock.search().setText("10u 50V");
    stock.table().selectRow(0);
    const std::size_t orders = w.workbench.shop_parts.stock().orders.size();
    stock.orderButton().click();
    REQUIRE(w.workbench.shop_parts.stock().orders.size() == orders + 1);
    CHECK(stock.parked().contains("P-77"));
    w.workbench.shop_parts.flush();
    const auto kept = parse_stock(
        *read_text_file(w.folder.filePath("stocked.parts/stock.json").toStdString()), "stock.json");
    REQUIRE(kept.ok());
    CHECK(*kept == w.workbench.shop_parts.stock());
    stock.addButton().click();
    CHECK(w.workbench.shop_parts.stock().parts.size() == static_cast<std::size_t>(all) + 1);
    stock.newKind().setCurrentIndex(stock.newKind().count() - 1);
    stock.search().setText("Osier 15 main, box 9");
    stock.addButton().click();
    CHECK(stock.donors().contains("Osier 15 main, box 9: whole"));
}

TEST_CASE("a stock file that cannot be read is told and never written over", "[app][parts]") {
    Window w;
    const auto folder = std::filesystem::path(w.folder.path().toStdString()) / "broken.parts";
    std::filesystem::create_directories(folder);
    const QString file = QString::fromStdString((folder / "stock.json").string());
    QFile broken(file);
    REQUIRE(broken.open(QIODevice::WriteOnly));
    broken.write("{\"format\": \"eager-hound.stock/1\", \"parts\": [{\"id\": 7}]}");
    broken.close();
    QStringList said;
    QObject::connect(&w.workbench.shop_parts, &ShopParts::trouble,
                     [&](const QString& sentence) { said << sentence; });
    w.workbench.shop_parts.openFolder(folder);
    REQUIRE(said.size() == 1);
    CHECK(said.front().contains("stock.json"));
    w.workbench.shop_parts.editStock("x", [](Stock& stock) { stock.parts.push_back({}); });
    w.workbench.shop_parts.flush();
    REQUIRE(broken.open(QIODevice::ReadOnly));
    CHECK(broken.readAll().contains("\"id\": 7"));
}

TEST_CASE("inlets are laid on one another, pads are torn by a click", "[app][parts]") {
    StockedWindow w;
    InletPanel& inlet = w.page().inlet();
    w.page().setCurrentWidget(&inlet);
    QTest::qWait(50);
    inlet.board().setCurrentIndex(inlet.board().findData("usbc16_top"));
    inlet.part().setCurrentIndex(inlet.part().findData("usbc16_top_b"));
    CHECK(inlet.verdict() == "Fits with a change");
    CHECK(inlet.reasons().contains("Bend anchors"));
    CHECK(inlet.advice().contains("Put the original back"));
    inlet.oldSound().setChecked(false);
    CHECK_FALSE(inlet.advice().contains("Put the original back"));
    inlet.drawing().repaint();
    const QPoint cc = inlet.drawing().at("A5").toPoint();
    QTest::mouseClick(&inlet.drawing(), Qt::LeftButton, Qt::NoModifier, cc);
    CHECK(inlet.padsText().contains("one way round"));
    QTest::mouseClick(&inlet.drawing(), Qt::LeftButton, Qt::NoModifier, cc);
    CHECK(inlet.padsText().contains("No pad"));
    // One of the joined power pads is two contacts of the plug.
    QTest::mouseClick(&inlet.drawing(), Qt::LeftButton, Qt::NoModifier, inlet.drawing().at("A4").toPoint());
    CHECK(inlet.padsText().contains("2.5 A"));
    inlet.part().setCurrentIndex(inlet.part().findData("usbc24_mid"));
    CHECK(inlet.verdict() == "Does not fit");
    inlet.measured().setPlainText("usb-c, none\nshell 9 7 out 0.6 high 1.6");
    QStringList said;
    QObject::connect(&inlet, &InletPanel::said, [&](const QString& sentence) { said << sentence; });
    inlet.keepButton().click();
    REQUIRE(said.size() == 1);
    CHECK(said.front().contains("without pins"));
    inlet.measured().setPlainText("usb-c, mine\nshell 9 7 out 0.6 high 1.6\nA5 -1.25 6.9 0.3 1.1");
    inlet.keepButton().click();
    CHECK(inlet.part().currentText() == "mine");
    CHECK(inlet.verdict() == "Does not fit");
}

TEST_CASE("capacitors and resistors are chosen from the drawer", "[app][parts]") {
    StockedWindow w;
    CapacitorPanel& capacitor = w.page().capacitor();
    CHECK(capacitor.verdict().contains("25.0 V"));
    REQUIRE(capacitor.choices().rowCount() > 0);
    CHECK(capacitor.choices().cell(0, 3).contains("Sound"));
    capacitor.rail().setText("60V");
    CHECK_FALSE(capacitor.choices().cell(0, 3).contains("Sound"));
    capacitor.value().setText("very much");
    CHECK(capacitor.choices().rowCount() == 0);
    ResistorPanel& resistor = w.page().resistor();
    resistor.marking().setText("472");
    CHECK(resistor.meaning().contains("4.700 kΩ"));
    CHECK(resistor.wanted().text() == "4k7");
    CHECK(resistor.verdict().contains("4k7"));
    resistor.marking().setText("what");
    CHECK(resistor.meaning().contains("no resistor is printed so"));
    resistor.wanted().setText("OL");
    CHECK(resistor.choices().rowCount() == 0);
}

TEST_CASE("donor chips and regulators are judged, and results are written down", "[app][parts]") {
    StockedWindow w;
    ChipPanel& chip = w.page().chip();
    chip.fromBoard().setText("heron 13 main");
    chip.fromPosition().setText("UP2");
    chip.toBoard().setText("Heron 13 main");
    chip.toPosition().setText("UP1");
    CHECK(chip.verdict() == "Failed before");
    chip.fromPosition().setText("UP7");
    CHECK(chip.verdict() == "Unknown: risk");
    chip.outcome().setText("left 20 V; right 20 V");
    chip.recordButton().click();
    CHECK(chip.verdict() == "Proven");
    const std::size_t results = w.workbench.shop_parts.donorResults().size();
    chip.outcome().setText("left maybe");
    chip.recordButton().click();
    CHECK(w.workbench.shop_parts.donorResults().size() == results);
    CHECK(chip.regulatorVerdict() == "Fit Linear 3.3 V, 0.3 A");
    chip.inVolts().setText("40V");
    CHECK(chip.regulatorVerdict() == "None in stock is sound");
}

TEST_CASE("a harness is mapped line by line", "[app][parts]") {
    StockedWindow w;
    HarnessPanel& harness = w.page().harness();
    harness.pins().setText("1 2 3");
    for (const char* line : {"1 outer ok", "2 1 ok", "3 centre ok"})
        enter_line(harness.entry(), line);
    CHECK(harness.verdict().contains("All 3 pins"));
    CHECK(harness.answer().cell(1, 1) == "outer");
    harness.replacement().setText("outer centre outer");
    CHECK(harness.moves().contains("Move wires"));
    harness.replacement().setText("outer outer centre");
    CHECK(harness.moves().contains("Same order"));
    enter_line(harness.entry(), "2 outer open");
    CHECK(harness.problems().contains("contradicts"));
    QStringList said;
    QObject::connect(&harness, &HarnessPanel::said, [&](const QString& sentence) { said << sentence; });
    enter_line(harness.entry(), "9 outer ok");
    REQUIRE(said.size() == 1);
    CHECK(said.front().contains("neither a pin"));
    harness.removeButton().click();
    CHECK_FALSE(harness.problems().contains("contradicts"));
}

TEST_CASE("the models of rework and parts keep Qt's rules", "[app][parts]") {
    StockedWindow w;
    using Mode = QAbstractItemModelTester::FailureReportingMode;
    QAbstractItemModelTester stock(&w.page().stock().model(), Mode::Fatal);
    w.page().stock().search().setText("25V");
    w.workbench.shop_parts.editStock("x", [](Stock& changed) { changed.parts.pop_back(); });
    StepsModel steps;
    QAbstractItemModelTester steps_tester(&steps, Mode::Fatal);
    steps.show(make_steps(rework().repairs, rework().repairs.repairs.front(), {}), {"open_case"});
    CHECK(steps.rowCount() > 5);
    CHECK(steps.nextRow() >= 0);
    OpeningModel opening;
    QAbstractItemModelTester opening_tester(&opening, Mode::Fatal);
    opening.show({parse_opening_line("3 screws 4 mm edge")});
    CHECK(opening.data(opening.index(0, OpeningModel::BackColumn), Qt::DisplayRole).toString() == "0 of 3");
    RowsModel rows({"a", "b"});
    QAbstractItemModelTester rows_tester(&rows, Mode::Fatal);
    rows.show({{{"1", "2"}, RowsModel::Tone::good}});
    CHECK(rows.cell(0, 1) == "2");
}
