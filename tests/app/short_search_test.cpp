// SPDX-License-Identifier: GPL-3.0-or-later
// The searches for a short on the board page, as a technician goes through them.
#include <QMimeData>
#include <QSignalSpy>

#include "app/screens/board/board_page.h"
#include "app/screens/board/board_view.h"
#include "app/screens/board/expected_panel.h"
#include "app/screens/board/feed_panel.h"
#include "app/screens/board/heat_panel.h"
#include "app/screens/board/millivolt_panel.h"
#include "app/screens/board/photo_panel.h"
#include "app/screens/instruments/instruments_page.h"
#include "app/screens/instruments/supply_panel.h"
#include "core/board/part_body.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/thermal/frame_files.h"
#include "core/thermal/heat_scene.h"
#include "tests/app/app_fixture.h"
#include "tests/support/seen.h"

using namespace eh;
using namespace eh::test;

namespace {

struct OpenBoard {
    QTemporaryDir folder;
    Window w;
    BoardPage& page = find_page<BoardPage>(w.window);

    OpenBoard() {
        page.bench().keepReadingsIn(folder.path());
        w.press(Qt::Key_N, Qt::ControlModifier);
        w.press(Qt::Key_Return);
        w.workbench.session.edit("machine", [](Job& job) { job.ticket.topology = chained; });
        w.press(Qt::Key_F11);
        const auto file = default_data_directory() / "boards" / "demo-board.json";
        REQUIRE(page.openFile(QString::fromStdString(file.string())).ok());
    }
    [[nodiscard]] const BoardMap& map() const { return *page.map(); }
    void pick(const char* net) { page.pickNet(map().find_net(net)); }
    void click(const Point& place) {
        BoardView& view = page.view();
        QTest::mouseClick(&view, Qt::LeftButton, Qt::NoModifier, view.at(place).toPoint());
    }
    static void type(QLineEdit& field, const char* text) {
        field.setText(text);
        QTest::keyClick(&field, Qt::Key_Return);
    }
    [[nodiscard]] const Job& job() { return w.workbench.session.job(); }
};

}  // namespace

TEST_CASE("a reading is judged by its twin, goes into the job, and serves the next board", "[app][board]") {
    OpenBoard b;
    ExpectedPanel& panel = b.page.expected();
    b.pick("vbus1");
    OpenBoard::type(panel.entry(), "OL");
    b.pick("vbus2");
    CHECK(panel.evidence().contains("twin net vbus1: open"));
    CHECK(panel.evidence().contains("model"));
    OpenBoard::type(panel.entry(), "3r3");
    CHECK(panel.verdict().startsWith("Short"));
    REQUIRE(b.job().readings.size() == 2);
    CHECK(b.job().readings[1].kind() == ReadingKind::net_ohms);
    CHECK(b.job().readings[1].place() == "vbus2");
    CHECK(number_of(b.job().readings[1]).value() == 3.3);
    CHECK_FALSE(b.job().readings[1].configuration.charger_connected);

    // A rail that the model does not know, and a sound one of few ohms.
    b.pick("gfx");
    OpenBoard::type(panel.entry(), "0r8");
    CHECK(panel.verdict().contains("Nothing is known"));
    CHECK(b.job().readings.size() == 2);
    panel.soundButton().click();
    CHECK(panel.soundButton().text().contains("take back"));
    b.w.press(Qt::Key_N, Qt::ControlModifier);
    b.w.press(Qt::Key_Return);
    b.w.workbench.session.edit("machine", [](Job& job) { job.ticket.topology = chained; });
    b.w.press(Qt::Key_F11);
    b.pick("gfx");
    CHECK(panel.evidence().contains("one sound board like this: 800 m"));
    OpenBoard::type(panel.entry(), "0r75");
    CHECK(panel.verdict().startsWith("Normal"));
    OpenBoard::type(panel.entry(), "nonsense");
    CHECK(panel.verdict().startsWith("Normal"));
}

TEST_CASE("undoing a reading taken on the board takes the board's copy, too, and redo brings both",
          "[app][board][keep]") {
    OpenBoard b;
    ExpectedPanel& panel = b.page.expected();
    b.pick("vbus1");
    OpenBoard::type(panel.entry(), "8");
    b.pick("vbus2");
    CHECK(panel.evidence().contains("twin net vbus1"));
    b.w.workbench.session.undoStack().undo();
    CHECK(b.job().readings.empty());
    b.pick("vbus1");
    b.pick("vbus2");
    CHECK_FALSE(panel.evidence().contains("twin net vbus1"));
    b.w.workbench.session.undoStack().redo();
    b.pick("vbus1");
    b.pick("vbus2");
    CHECK(panel.evidence().contains("twin net vbus1"));
}

TEST_CASE("a part taken off: what to expect, and what it was", "[app][board]") {
    OpenBoard b;
    ExpectedPanel& panel = b.page.expected();
    b.pick("vbus1");
    OpenBoard::type(panel.entry(), "400k");
    b.pick("vbus2");
    OpenBoard::type(panel.entry(), "3r3");
    panel.removed().setCurrentIndex(panel.removed().findText("DP2"));
    OpenBoard::type(panel.after(), "3r3");
    CHECK(panel.removal().contains("was not the short"));
    OpenBoard::type(panel.after(), "390k");
    CHECK(panel.removal().contains("it was the part"));
    // Several parts of this net are one in the model: with one of them off, nothing is said there.
    CHECK(b.job().readings.size() == 2);
    panel.removed().setCurrentIndex(panel.removed().findText("J2"));
    OpenBoard::type(panel.after(), "3r4");
    // The receptacle is one part in the model too, so that the reading counts.
    REQUIRE(b.job().readings.size() == 3);
    const Reading& taken = b.job().readings.back();
    REQUIRE(taken.configuration.removed.size() == 1);
    CHECK(taken.place() == "vbus2");
    CHECK(number_of(taken).value() == 3.4);
}

TEST_CASE("the plan for feeding a net follows its ohms and goes to the supply as it is picked",
          "[app][board]") {
    OpenBoard b;
    b.pick("vin");
    FeedPanel& panel = b.page.feed();
    b.page.tabs().setCurrentWidget(&panel);
    CHECK(panel.steps().rowCount() == 0);
    CHECK(panel.netVolts().value() == Approx(20.0));
    b.page.bench().take(NetQuantity::ohms, {0.05, false, 0.0, 0.05});
    REQUIRE(panel.steps().rowCount() >= 2);
    CHECK(panel.steps().item(0, 0)->text().startsWith("1.0 V"));
    CHECK(panel.verdict().contains("Ends there because"));
    panel.steps().item(0, 4)->setText("0.052");
    panel.steps().item(0, 5)->setText("1.0");
    CHECK(panel.verdict().startsWith("Steady at 52 m"));
    panel.steps().item(1, 4)->setText("0,02");
    panel.steps().item(1, 5)->setText("1.4");
    CHECK(panel.verdict().startsWith("It falls with volts"));
    panel.steps().selectRow(1);
    panel.supplyButton().click();
    CHECK(b.w.window.station() == MainWindow::InstrumentsStation);
    SupplyPanel& supply = find_page<InstrumentsPage>(b.w.window).supplyPanel();
    CHECK(supply.net().currentData().toString() == "vin");
    CHECK(supply.limit().value() > 1.0);
}

TEST_CASE("millivolts lead to the part, to the next pad, and into the job", "[app][board]") {
    OpenBoard b;
    MillivoltPanel& panel = b.page.millivolts();
    b.page.tabs().setCurrentWidget(&panel);
    const int net = b.map().find_net("vbus2");
    b.pick("vbus2");
    b.page.view().showPicked();
    const auto pad_of = [&](const char* part) {
        for (const int pad : b.map().part(b.map().find_part(part)).pads)
            if (b.map().pad(pad).net == net)
                return pad;
        return no_index;
    };
    std::vector<Point> places;
    for (const int pad : b.map().net(net).pads)
        places.push_back(*b.map().pad(pad).place);
    const CopperSheet sheet(convex_hull(places), 1.0, 0.5);
    const Point fed = *b.map().pad(pad_of("J2")).place;
    const int left = sheet.cell_at(*b.map().pad(pad_of("DP2")).place);
    const Eigen::VectorXd volts = sheet.response(sheet.cell_at(fed)) - sheet.response(left);
    b.click(fed);
    panel.feedButton().click();
    for (const char* part : {"C8", "C9", "C10", "D2", "DP2"}) {
        const Point place = *b.map().pad(pad_of(part)).place;
        b.click(place);
        const double millivolts = 1.0 * (volts[sheet.cell_at(place)] - volts[left]) + 40.0;
        OpenBoard::type(panel.entry(), QString::number(millivolts, 'f', 2).toUtf8());
    }
    REQUIRE(panel.readings().rowCount() == 5);
    REQUIRE(eventually([&] { return !panel.searching() && panel.answer().has_value(); }));
    CHECK(b.map().part(panel.answer()->candidates.front().part).name == "DP2");
    CHECK_FALSE(b.page.view().marks().empty());
    // The volts with the supply off are taken off: shifting both changes nothing.
    panel.readings().item(0, 2)->setText("7.5");
    panel.readings().item(0, 1)->setText(
        QString::number(panel.readings().item(0, 1)->text().toDouble() + 7.5, 'f', 3));
    REQUIRE(eventually([&] { return !panel.searching() && panel.answer().has_value(); }));
    CHECK(b.map().part(panel.answer()->candidates.front().part).name == "DP2");
    panel.takeButton().click();
    REQUIRE(b.job().readings.size() == 1);
    const Reading& taken = b.job().readings.front();
    CHECK(taken.kind() == ReadingKind::injection);
    CHECK(taken.place() == "sp2");
    CHECK(heat_of(taken).certainty <= 1.0);
    CHECK_FALSE(heat_of(taken).rise_kelvin);
    CHECK(taken.configuration.injection->net == "vbus2");
    // Opening another board while it works is safe.
    panel.amps().setValue(3.0);
    const auto file = default_data_directory() / "boards" / "demo-board.json";
    REQUIRE(b.page.openFile(QString::fromStdString(file.string())).ok());
    CHECK(panel.readings().rowCount() == 0);
}

TEST_CASE("the copper can be drawn by its corners", "[app][board]") {
    OpenBoard b;
    MillivoltPanel& panel = b.page.millivolts();
    b.page.tabs().setCurrentWidget(&panel);
    b.pick("vbus2");
    panel.drawOutline(true);
    for (const Point corner : {Point{20, 20}, Point{60, 20}, Point{60, 60}})
        b.click(corner);
    CHECK(panel.marks().size() == 3);
    CHECK(b.page.bench().net() == b.map().find_net("vbus2"));  // clicks were corners, not picks
    panel.drawOutline(false);
    CHECK(panel.marks().size() == 3);
}

TEST_CASE("a camera's frames are laid over the board by four points and name the part", "[app][board]") {
    OpenBoard b;
    b.w.workbench.session.edit("plugged", [](Job& job) { job.bench.charger_connected = true; });
    HeatPanel& panel = b.page.heat();
    b.page.tabs().setCurrentWidget(&panel);
    b.pick("vbus2");
    b.page.view().showAll();
    const int part = b.map().find_part("DP2");
    const HeatSceneOptions options;
    const PlaneMap view = camera_over(body_of(b.map(), part)->centre(), 50.0, options);
    HeatScene scene(b.map(), BoardSide::top, {{part, 0.3, true}}, view, 4, options);
    const auto frame_file = [&](const char* name) {
        const QString file = b.folder.path() + "/" + name;
        QFile out(file);
        REQUIRE(out.open(QIODevice::WriteOnly));
        for (int i = 0; i < 4; ++i)
            out.write(QByteArray::fromStdString(write_pgm(scene.frame(), {0.002, -20.0})));
        return file;
    };
    panel.openFiles({frame_file("a-cold.pgm")});
    REQUIRE(eventually([&] { return !panel.picture().image().isNull(); }));
    panel.referenceButton().click();
    scene.advance(4.0, true);
    const QString warm = frame_file("b-warm.pgm");

    panel.markButton().setChecked(true);
    for (const PicturePoint corner :
         {PicturePoint{20, 20}, PicturePoint{140, 20}, PicturePoint{140, 100}, PicturePoint{20, 100}}) {
        QTest::mouseClick(&panel.picture(), Qt::LeftButton, Qt::NoModifier,
                          panel.picture().at(corner).toPoint());
        b.click(view.place_of(corner));
    }
    CHECK(panel.marked() == 4);
    CHECK_FALSE(panel.markButton().isChecked());
    // More frames of the same camera: openFiles would forget the reference, so they come as they would live.
    const auto bytes = [&] {
        QFile in(warm);
        REQUIRE(in.open(QIODevice::ReadOnly));
        return in.readAll();
    }();
    PgmStream stream;
    REQUIRE(stream.feed(bytes.constData(), static_cast<std::size_t>(bytes.size())).ok());
    for (const ThermalFrame& frame : stream.frames())
        emit b.w.workbench.camera.frameArrived(frame);
    REQUIRE(eventually([&] { return panel.answer().has_value(); }));
    REQUIRE_FALSE(panel.answer()->candidates.empty());
    CHECK(b.map().part(panel.answer()->candidates.front().part).name == "DP2");
    CHECK(panel.verdict().contains("DP2"));
    CHECK_FALSE(panel.overlay().isNull());
    panel.overButton().setChecked(false);
    CHECK(panel.overlay().isNull());
    panel.takeButton().click();
    REQUIRE(b.job().readings.size() == 1);
    CHECK(b.job().readings.front().kind() == ReadingKind::hot_part);
    CHECK(b.job().readings.front().place() == "sp2");
    CHECK(heat_of(b.job().readings.front()).rise_kelvin);
    CHECK(number_of(b.job().readings.front()).value() > 1.0);
}

TEST_CASE("a place found by finger or alcohol is a reading with less certainty", "[app][board]") {
    OpenBoard b;
    HeatPanel& panel = b.page.heat();
    b.page.tabs().setCurrentWidget(&panel);
    b.pick("vbus2");
    const Point place = body_of(b.map(), b.map().find_part("DP2"))->centre();
    panel.alcoholButton().click();
    b.click(place);
    REQUIRE(panel.answer());
    CHECK(b.map().part(panel.answer()->candidates.front().part).name == "DP2");
    panel.takeButton().click();
    panel.fingerButton().click();
    b.click(place);
    panel.takeButton().click();
    REQUIRE(b.job().readings.size() == 2);
    CHECK(heat_of(b.job().readings[1]).certainty < heat_of(b.job().readings[0]).certainty);
    CHECK_FALSE(heat_of(b.job().readings[0]).rise_kelvin);
    // A picture that is none is said to be none, and nothing is lost.
    const QString file = b.folder.path() + "/holiday.png";
    QFile out(file);
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write("no picture");
    out.close();
    panel.alcoholButton().click();
    b.click(place);
    QSignalSpy said(&panel, &HeatPanel::said);
    panel.openFiles({file});
    REQUIRE(eventually([&] { return said.count() == 1; }));
    CHECK_THAT(said.front().front().toString().toStdString(), Catch::Contains("holiday.png"));
    CHECK(panel.answer());
}

TEST_CASE("a rail goes on over a sense resistor that is named like any other, where the model has one",
          "[app][board]") {
    OpenBoard b;
    const QString file = b.folder.path() + "/small.json";
    QFile out(file);
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(R"({"format": "eager-hound.board/1", "title": "small", "pads": [
        {"part": "R5", "pin": "1", "net": "vin", "x_mm": 1, "y_mm": 1},
        {"part": "R5", "pin": "2", "net": "chgin", "x_mm": 3, "y_mm": 1},
        {"part": "R6", "pin": "1", "net": "vin", "x_mm": 1, "y_mm": 5},
        {"part": "R6", "pin": "2", "net": "far", "x_mm": 3, "y_mm": 5}]})");
    out.close();
    REQUIRE(b.page.openFile(file).ok());
    b.pick("vin");
    CHECK(b.page.details().contains("over R5 to chgin"));
    CHECK_FALSE(b.page.details().contains("over R6"));
}

TEST_CASE("a map is made of a photo: four points, pads by click, undo, saved and read back", "[app][board]") {
    Preferences().setBoardOf(chained, {});
    QTemporaryDir folder;
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    w.press(Qt::Key_F11);
    BoardPage& page = find_page<BoardPage>(w.window);
    CHECK(page.map() == nullptr);
    const QString photo = folder.path() + "/front.png";
    QImage image(400, 200, QImage::Format_RGB32);
    image.fill(Qt::darkGreen);
    REQUIRE(image.save(photo));
    page.openPhoto(photo);
    REQUIRE(page.map() != nullptr);
    PhotoPanel& panel = page.photo();
    BoardView& view = page.view();
    const auto click_pixel = [&](double x, double y) {
        const QPointF at = view.at(panel.place().place_of({x, y}));
        QTest::mouseClick(&view, Qt::LeftButton, Qt::NoModifier, at.toPoint());
    };
    CHECK_FALSE(panel.addButton().isEnabled());
    panel.pointsButton().click();
    // The board is 80 mm by 40 mm: a fifth of a millimetre a pixel, rows going down.
    struct Corner {
        double x, y;
        const char* place;
    };
    for (const Corner& corner :
         {Corner{20, 20, "4, 36"}, Corner{380, 20, "76; 36"}, Corner{380, 180, "76 4"}}) {
        click_pixel(corner.x, corner.y);
        OpenBoard::type(panel.pointPlace(), corner.place);
    }
    click_pixel(20, 180);
    OpenBoard::type(panel.pointPlace(), "nowhere");
    CHECK(panel.pointsButton().isChecked());  // that was no place; the point waits
    OpenBoard::type(panel.pointPlace(), "4,4");
    CHECK_FALSE(panel.pointsButton().isChecked());
    view.showAll();
    REQUIRE(panel.addButton().isEnabled());
    panel.addButton().click();
    panel.pad().setText("C12-1 vin");
    click_pixel(100, 100);
    CHECK(panel.pad().text() == "C12-2 ");
    panel.pad().setText("C12-2 gnd");
    click_pixel(110, 100);
    panel.pad().setText("U3-7 vin");
    click_pixel(200, 60);
    REQUIRE(page.map()->pads().size() == 3);
    const Point placed = *page.map()->pad(0).place;
    CHECK(placed.x_mm == Approx(20.0).margin(0.5));
    CHECK(placed.y_mm == Approx(20.0).margin(0.5));
    panel.undoButton().click();
    CHECK(page.map()->pads().size() == 2);
    panel.addButton().click();
    page.pickPart(page.map()->find_part("C12"));
    panel.fittedButton().click();
    CHECK_FALSE(page.map()->part(page.map()->find_part("C12")).fitted);

    const QString board = folder.path() + "/board.json";
    REQUIRE(panel.save(board).ok());
    REQUIRE(page.openFile(board).ok());
    CHECK(page.map()->pads().size() == 2);
    CHECK_FALSE(page.map()->part(page.map()->find_part("C12")).fitted);
    CHECK_FALSE(panel.image().isNull());
    CHECK(panel.place().place_of({20, 20}).x_mm == Approx(4.0).margin(0.3));
    // A picture that is none.
    const QString words = folder.path() + "/words.jpg";
    QFile out(words);
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write("words");
    out.close();
    CHECK_FALSE(panel.openPhoto(words, BoardSide::top).ok());
    CHECK_FALSE(panel.image().isNull());
}
