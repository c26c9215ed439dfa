// SPDX-License-Identifier: GPL-3.0-or-later
// Takes a picture of each main view from the demo shop, for docs/screenshots. Usage: screenshots FOLDER
// [rework]: with a second word only the pages for rework and parts.
#include <QApplication>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QPainter>
#include <QSpinBox>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>
#include <cstdio>

#include "app/demo/demo_shop.h"
#include "app/main_window.h"
#include "app/screens/bench/bench_page.h"
#include "app/screens/bench/design_dialog.h"
#include "app/screens/bench/hour_dialog.h"
#include "app/screens/board/board_page.h"
#include "app/screens/board/board_view.h"
#include "app/screens/board/expected_panel.h"
#include "app/screens/board/heat_panel.h"
#include "app/screens/board/millivolt_panel.h"
#include "app/screens/board/photo_panel.h"
#include "app/screens/check/check_page.h"
#include "app/screens/instruments/instruments_page.h"
#include "app/screens/instruments/supply_panel.h"
#include "app/screens/intake/intake_page.h"
#include "app/screens/machine/machine_dialog.h"
#include "app/screens/machine/own_machines_dialog.h"
#include "app/screens/proof/proof_page.h"
#include "app/screens/repair/repair_page.h"
#include "app/screens/talk/talk_page.h"
#include "app/screens/trace/trace_page.h"
#include "app/services/machine_library.h"
#include "app/style/theme.h"
#include "app/tools/rework_shots.h"
#include "app/tools/waiting.h"
#include "core/base/plain_numbers.h"
#include "core/board/copper_sheet.h"
#include "core/board/part_body.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/thermal/heat_scene.h"

namespace {

constexpr int stream_ms = 26000;  // so that the roll has something to show
constexpr int patience_ms = 60000;
constexpr int short_stream_ms = 12000;
constexpr int longest_wait_ms = 120000;

void wait_for_reasoning(eh::MainWindow& window) {
    QElapsedTimer clock;
    clock.start();
    QTest::qWait(200);
    while (window.workbench().diagnosis.busy() && clock.elapsed() < longest_wait_ms)
        QTest::qWait(50);
    QTest::qWait(300);
}

bool take(eh::MainWindow& window, const QString& folder, const char* name) {
    QTest::qWait(150);
    wait_for_shop(window);
    const bool saved = window.grab().save(folder + "/" + name + ".png");
    std::printf("%s %s\n", name, saved ? "taken" : "could not be written");
    return saved;
}

void click_on_board(eh::MainWindow& window, const eh::Point& place) {
    auto& view = find_page<eh::BoardPage>(window).view();
    QTest::mouseClick(&view, Qt::LeftButton, Qt::NoModifier, view.at(place).toPoint());
}

void type_into(QLineEdit& field, const QString& text) {
    field.setText(text);
    QTest::keyClick(&field, Qt::Key_Return);
}

int pad_on(const eh::BoardMap& map, const char* part, int net) {
    for (const int pad : map.part(map.find_part(part)).pads)
        if (map.pad(pad).net == net)
            return pad;
    return eh::no_index;
}

// Millivolts as copper like the hull would show them with the protector of port 2 shorted.
void read_millivolts(eh::MainWindow& window) {
    eh::BoardPage& page = find_page<eh::BoardPage>(window);
    const eh::BoardMap& map = *page.map();
    const int net = map.find_net("vbus2");
    std::vector<eh::Point> places;
    for (const int pad : map.net(net).pads)
        places.push_back(*map.pad(pad).place);
    const eh::CopperSheet sheet(eh::convex_hull(places), 1.0, 0.5);
    const int fed = pad_on(map, "J2", net);
    const int left = sheet.cell_at(*map.pad(pad_on(map, "DP2", net)).place);
    const auto volts = (sheet.response(sheet.cell_at(*map.pad(fed).place)) - sheet.response(left)).eval();
    click_on_board(window, *map.pad(fed).place);
    page.millivolts().feedButton().click();
    QStringList read;
    for (const int part : map.parts_on(net)) {
        const int pad = pad_on(map, map.part(part).name.c_str(), net);
        if (pad == fed || read.size() >= 5)
            continue;
        click_on_board(window, *map.pad(pad).place);
        constexpr double millivolts_a_unit = 2.0 * 0.5;  // two amps, half a milliohm a square
        type_into(page.millivolts().entry(),
                  QString::number(
                      millivolts_a_unit * (volts[sheet.cell_at(*map.pad(pad).place)] - volts[left]) + 40.0,
                      'f', 2));
        read += QString::fromStdString(map.part(part).name);
    }
    while (page.millivolts().searching())
        QTest::qWait(50);
    QTest::qWait(200);
}

// Four points of the picture, where the simulated camera sees them.
void mark_points(eh::MainWindow& window) {
    eh::BoardPage& page = find_page<eh::BoardPage>(window);
    const eh::BoardMap& map = *page.map();
    const auto body = *eh::body_of(map, map.find_part("DP2"));
    constexpr double wide_mm = 64.0;
    const eh::PlaneMap view = eh::camera_over(body.centre(), wide_mm, {});
    page.heat().markButton().setChecked(true);
    for (const eh::PicturePoint corner : {eh::PicturePoint{25, 20}, {135, 20}, {135, 100}, {25, 100}}) {
        const eh::Point place = view.place_of(corner);
        QTest::mouseClick(&page.heat().picture(), Qt::LeftButton, Qt::NoModifier,
                          page.heat().picture().at(corner).toPoint());
        click_on_board(window, place);
    }
}

// A made-up photo of the board: its own picture, dyed, tied to the map by four of its pads.
void show_photo(eh::MainWindow& window, const QString& folder, bool& good) {
    eh::BoardPage& page = find_page<eh::BoardPage>(window);
    const eh::BoardMap& map = *page.map();
    page.tabs().setCurrentIndex(0);
    page.clearPick();
    page.view().showAll();
    QImage photo = page.view().grab().toImage();
    QPainter painter(&photo);
    painter.setCompositionMode(QPainter::CompositionMode_Multiply);
    painter.fillRect(photo.rect(), QColor(60, 120, 90));
    painter.end();
    const QTemporaryDir shots;
    (void)photo.save(shots.path() + "/top.png");
    std::vector<QPointF> seen;
    const QStringList pads{"J1-A1", "J2-A1", "UE1-1", "UCPU1-1"};
    for (const QString& name : pads)
        for (const int pad : map.part(map.find_part(name.section('-', 0, 0).toStdString())).pads)
            if (map.pad(pad).pin == name.section('-', 1).toStdString())
                seen.push_back(page.view().at(*map.pad(pad).place));
    page.openPhoto(shots.path() + "/top.png");
    page.photo().pointsButton().click();
    for (std::size_t i = 0; i < seen.size(); ++i) {
        click_on_board(window, page.photo().place().place_of({seen[i].x(), seen[i].y()}));
        if (i + 1 < seen.size())
            type_into(page.photo().pointPlace(), pads[static_cast<int>(i)]);
    }
    good &= take(window, folder, "photo");
}

// The searches for a short: what the net should read, how to feed it, millivolts along its copper, heat.
void show_board(eh::MainWindow& window, const QString& folder, bool& good) {
    eh::BoardPage& page = find_page<eh::BoardPage>(window);
    page.search().setText("vbus2");
    const eh::BoardMap& map = *page.map();
    page.pickNet(map.find_net("vbus1"));
    type_into(page.expected().entry(), "OL");
    page.pickNet(map.find_net("vbus2"));
    type_into(page.expected().entry(), "3r3");
    page.view().showAll();
    good &= take(window, folder, "board");
    page.tabs().setCurrentIndex(1);
    good &= take(window, folder, "feed");
    page.tabs().setCurrentWidget(&page.millivolts());
    page.view().showPicked();
    read_millivolts(window);
    good &= take(window, folder, "millivolts");
    page.pickNet(map.find_net("vbus2"));
    page.tabs().setCurrentWidget(&page.heat());
    page.heat().way().setCurrentIndex(1);
    constexpr int camera_ms = 16000;
    QTest::qWait(camera_ms / 8);
    page.view().showAll();
    mark_points(window);
    page.view().showPicked();
    QTest::qWait(camera_ms);
    good &= take(window, folder, "heat");
    show_photo(window, folder, good);
    page.tabs().setCurrentIndex(0);
}

void show_intake(eh::MainWindow& window, eh::MachineLibrary& machines, const eh::Knowledge& known,
                 const QString& folder, bool& good) {
    window.go(eh::MainWindow::ShelfStation);
    good &= take(window, folder, "shelf");
    open_job(window, "demo-3");
    window.go(eh::MainWindow::IntakeStation);
    good &= take(window, folder, "intake");
    find_page<eh::IntakePage>(window).describe().click();
    find_page<eh::MachineDialog>(window).name().setText("Grey 14-inch, 45 W");
    find_page<eh::MachineDialog>(window).watts().setValue(45);
    find_page<eh::MachineDialog>(window).cells().setValue(3);
    QTest::qWait(400);
    good &= find_page<eh::MachineDialog>(window).grab().save(folder + "/machine.png");
    find_page<eh::MachineDialog>(window).reject();
    find_page<eh::OwnMachinesDialog>(window).show();  // what is added from here is not the open job's
    for (const char* title : {"Grey 14-inch, 45 W", "Black 15-inch"}) {
        eh::MachineProfile profile = eh::profile_like(*known.find_topology("usbc-two-chained"), known);
        profile.title = title;
        good &= machines.add(profile).ok();
    }
    QTest::qWait(short_stream_ms / 10);
    good &= find_page<eh::OwnMachinesDialog>(window).grab().save(folder + "/own-machines.png");
    find_page<eh::OwnMachinesDialog>(window).hide();
}

// The same machine, had nobody looked inside.
void show_open_kind(eh::MainWindow& window, const QString& folder, bool& good) {
    bool weighed = false;
    const auto waiting = QObject::connect(&window.workbench().design, &eh::DesignService::kindsWeighed,
                                          [&](const eh::KnownDesign&) { weighed = true; });
    window.workbench().session.edit("", [](eh::Job& job) { job.ticket.kind_seen = false; });
    good &= QTest::qWaitFor([&] { return weighed; }, patience_ms);
    QObject::disconnect(waiting);
    good &= take(window, folder, "bench-open-kind");
    window.workbench().session.undoStack().undo();
}

// The same machine as it came in: a question to the customer and the whole survey beside what is next.
void show_first_glance(eh::MainWindow& window, const QString& folder, bool& good) {
    auto& bench = window.workbench();
    bench.session.edit("", [](eh::Job& job) {
        job.readings.resize(1);
        job.ticket.facts.clear();
        job.bench = job.readings.front().configuration;
        job.bench.case_open = job.bench.board_out = false;
    });
    good &= QTest::qWaitFor([&] { return bench.diagnosis.answer().next.survey.has_value(); }, patience_ms);
    good &= take(window, folder, "bench-fresh");
    bench.session.undoStack().undo();
}

void show_hour(eh::MainWindow& window, const QString& folder, bool& good) {
    emit find_page<eh::BenchPage>(window).hourAsked();
    auto& hour = find_page<eh::HourDialog>(window);
    auto* tree = hour.findChild<QTreeWidget*>();
    good &= QTest::qWaitFor([tree] { return tree->topLevelItemCount() > 0; }, patience_ms);
    good &= hour.grab().save(folder + "/hour.png");
    hour.reject();
}

void show_bench(eh::MainWindow& window, eh::BenchSimulator& bench, const QString& folder, bool& good) {
    window.go(eh::MainWindow::BenchStation);
    wait_for_reasoning(window);
    find_page<eh::BenchPage>(window).suspects().openPart(
        window.workbench().diagnosis.answer().ranking.parts.front().block);
    good &= take(window, folder, "evidence");
    emit find_page<eh::BenchPage>(window).designAsked();
    auto& design = find_page<eh::DesignDialog>(window);
    for (auto* table : design.findChildren<QTableView*>()) {
        while (table->model()->rowCount() == 0)
            QTest::qWait(50);
    }
    good &= design.grab().save(folder + "/design.png");
    design.reject();
    show_open_kind(window, folder, good);
    show_first_glance(window, folder, good);
    open_job(window, "demo-4");
    window.go(eh::MainWindow::BenchStation);
    wait_for_reasoning(window);
    bench.start({"--topology", "barrel-id", "--fault", "jack_id_contact@jack"});
    QTest::qWait(short_stream_ms);
    good &= take(window, folder, "bench-barrel");
    show_hour(window, folder, good);
    open_job(window, "demo-4");
    find_page<eh::RepairPage>(window).propose("jack", eh::Work::replace);
    good &= take(window, folder, "repair");
    open_job(window, "demo-5");
    find_page<eh::ProofPage>(window).makePlan();
    find_page<eh::ProofPage>(window).table().selectRow(1);
    good &= take(window, folder, "proof");
    open_job(window, "demo-6");
    good &= take(window, folder, "handover");
}

void show_instruments(eh::MainWindow& window, eh::BenchSimulator& bench, const QString& folder, bool& good) {
    open_job(window, "demo-2");
    bench.start({"--topology", "usbc-two-chained", "--fault", "memory_unreadable@mem"});
    window.go(eh::MainWindow::TalkStation);
    QTest::qWait(short_stream_ms / 4);
    find_page<eh::TalkPage>(window).recordButton().click();
    QTest::qWait(short_stream_ms / 4);
    find_page<eh::TalkPage>(window).ladder().setCurrentIndex(
        find_page<eh::TalkPage>(window).ladder().model()->index(1, 0));
    good &= take(window, folder, "talk");
    find_tabs(window, "cc tabs").setCurrentIndex(1);
    find_page<eh::CheckPage>(window).label().setPlainText("5V 3A, 9V 3A, 15V 3A, 20V 5A");
    find_page<eh::CheckPage>(window).length().setValue(2.0);
    find_page<eh::CheckPage>(window).cc1().setValue(4.7);
    good &= take(window, folder, "check");
    find_tabs(window, "cc tabs").setCurrentIndex(0);
    open_job(window, "demo-2");
    bench.start({"--topology", "usbc-two-chained", "--fault", "protector_shorted@sp2=3.3/3"});
    QTest::qWait(short_stream_ms / 4);
    window.workbench().session.edit("strip", [](eh::Job& job) {
        job.bench.battery_in = false;
        job.bench.charger_connected = false;
    });
    window.go(eh::MainWindow::InstrumentsStation);
    find_page<eh::InstrumentsPage>(window).probeNet().setCurrentIndex(
        find_page<eh::InstrumentsPage>(window).probeNet().findData("vbus2"));
    auto& supply = find_page<eh::InstrumentsPage>(window).supplyPanel();
    supply.net().setCurrentIndex(supply.net().findData("vbus2"));
    QTest::qWait(short_stream_ms / 12);
    supply.onButton().click();
    QTest::qWait(short_stream_ms / 6);
    good &= take(window, folder, "instruments");
    supply.offButton().click();
    window.workbench().session.undoStack().undo();
}

void show_board_and_trace(eh::MainWindow& window, const std::filesystem::path& data, const QString& folder,
                          bool& good) {
    window.go(eh::MainWindow::BoardStation);
    (void)find_page<eh::BoardPage>(window).openFile(
        QString::fromStdString((data / "boards" / "demo-board.json").string()));
    show_board(window, folder, good);
    window.go(eh::MainWindow::TraceStation);
    QTest::qWait(stream_ms);
    good &= take(window, folder, "trace");
    find_page<eh::TracePage>(window).tabs().setCurrentIndex(1);
    good &= take(window, folder, "ports");
    window.go(eh::MainWindow::BenchStation);
    wait_for_reasoning(window);
    QTest::qWait(stream_ms);
    find_page<eh::BenchPage>(window).quickLine().start("p2 vbus 3r3");
    good &= take(window, folder, "bench");
}

}  // namespace

int main(int argc, char** argv) {
    QStandardPaths::setTestModeEnabled(true);
    QApplication application(argc, argv);
    eh::keep_plain_numbers();
    QApplication::setOrganizationName("Eager Hound");
    QApplication::setApplicationName("eager-hound-screenshots");
    if (argc != 2 && argc != 3)
        return 2;
    const QString folder = QString::fromLocal8Bit(argv[1]);
    const auto data = eh::default_data_directory();
    auto knowledge = eh::load_knowledge(data);
    const auto costs = eh::load_costs(data);
    const auto rework = eh::load_rework(data);
    if (!knowledge || !costs || !rework)
        return 1;
    eh::theme::apply(application);
    eh::Knowledge known = std::move(knowledge).value();
    const QTemporaryDir machines_folder;
    eh::MachineLibrary machines(known, machines_folder.path().toStdString());
    eh::Workbench workbench(known, *costs, *rework);
    eh::MainWindow window(workbench);
    window.useMachines(machines);
    window.workbench().repository.open(eh::demo_shop_opener(data), [](const eh::Outcome&) {});
    wait_for_shop(window);
    if (!window.workbench().repository.hasShop())
        return 1;
    window.resize(1280, 800);
    window.show();
    if (argc == 3)
        return take_rework_shots(window, folder) ? 0 : 1;
    eh::BenchSimulator camera;
    QObject::connect(&camera, &eh::BenchSimulator::cameraListening, &window, &eh::MainWindow::connectCamera);
    camera.start({"--board", QString::fromStdString((data / "boards" / "demo-board.json").string()), "--part",
                  "DP2", "--kelvin", "0.4"},
                 "thermal");
    eh::BenchSimulator bench;
    QObject::connect(&bench, &eh::BenchSimulator::meterListening, &window, &eh::MainWindow::connectMeter);
    QObject::connect(&bench, &eh::BenchSimulator::multimeterListening, &window,
                     &eh::MainWindow::connectMultimeter);
    QObject::connect(&bench, &eh::BenchSimulator::supplyListening, &window, &eh::MainWindow::connectSupply);
    bench.start({"--topology", "usbc-two-chained", "--fault", "protector_shorted@sp2=3.3/3"});

    bool good = true;
    show_intake(window, machines, known, folder, good);
    show_bench(window, bench, folder, good);
    show_instruments(window, bench, folder, good);
    show_board_and_trace(window, data, folder, good);
    good &= take_rework_shots(window, folder);
    return good ? 0 : 1;
}
