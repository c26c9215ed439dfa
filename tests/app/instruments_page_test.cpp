// SPDX-License-Identifier: GPL-3.0-or-later
// The page of instruments in the real window, with the simulated bench.
#include <QComboBox>
#include <QTcpServer>
#include <QTcpSocket>

#include "app/screens/bench/bench_page.h"
#include "app/screens/instruments/columns_form.h"
#include "app/screens/instruments/instruments_page.h"
#include "app/screens/instruments/supply_panel.h"
#include "tests/app/app_fixture.h"
#include "tests/support/seen.h"

using namespace eh;
using namespace eh::test;

namespace {

void pick(QComboBox& box, const QString& data) {
    const int index = box.findData(data);
    REQUIRE(index >= 0);
    box.setCurrentIndex(index);
}

struct WithBench : Window {
    BenchProcess bench;
    InstrumentsPage& page;

    explicit WithBench(const QStringList& arguments)
        : bench(arguments), page(find_page<InstrumentsPage>(window)) {
        press(Qt::Key_N, Qt::ControlModifier);
        press(Qt::Key_Return);
        press(Qt::Key_F10);
        REQUIRE(window.station() == MainWindow::InstrumentsStation);
        window.connectMeter(bench.address());
        window.connectMultimeter(bench.multimeter());
        window.connectSupply(bench.supply());
        REQUIRE(eventually([&] {
            return window.workbench().multimeter.line().ready() && window.workbench().supply.line().ready();
        }));
        // The machine of the intake is the first kind of the list; the bench is of two ports on a chain.
        window.workbench().session.edit("machine", [](Job& job) {
            job.ticket.topology = chained;
            job.bench.port = "p1";
        });
    }
    void unplugged() {
        window.workbench().session.edit("strip", [](Job& job) {
            job.bench.battery_in = false;
            job.bench.charger_connected = false;
        });
    }
};

}  // namespace

TEST_CASE("ohms and volts of the multimeter become readings of the net under the probe",
          "[app][instruments]") {
    WithBench w({"--topology", chained, "--fault", "capacitor_shorted@cm=1.5"});
    w.unplugged();
    pick(w.page.probeNet(), "main");
    w.page.function().setCurrentIndex(1);
    REQUIRE(eventually([&] {
        const auto value = w.workbench.multimeter.value();
        return value && *value > 1.0 && *value < 2.0;
    }));
    const std::size_t before = w.job().readings.size();
    QTest::mouseClick(&w.page.readingButton(), Qt::LeftButton);
    REQUIRE(w.job().readings.size() == before + 1);
    const Reading& reading = w.job().readings.back();
    CHECK(reading.kind() == ReadingKind::net_ohms);
    CHECK(reading.place() == "main");
    CHECK(number_of(reading).value() == Approx(1.5).margin(0.2));
    // With the battery in, ohms are refused.
    w.workbench.session.edit("strip", [](Job& job) { job.bench.battery_in = true; });
    REQUIRE(eventually([&] { return w.workbench.multimeter.value().has_value(); }));
    QTest::mouseClick(&w.page.readingButton(), Qt::LeftButton);
    CHECK(w.job().readings.size() == before + 1);
}

TEST_CASE("the supply goes on only when the strip allows it, and off when the strip no longer does",
          "[app][instruments]") {
    WithBench w({"--topology", chained, "--fault", "capacitor_shorted@cm=1.5"});
    SupplyPanel& panel = w.page.supplyPanel();
    BenchSupply& supply = w.workbench.supply;
    pick(panel.net(), "main");
    REQUIRE(eventually([&] { return supply.line().waiting() == 0; }));
    QTest::mouseClick(&panel.onButton(), Qt::LeftButton);
    QTest::qWait(300);
    CHECK(supply.output() == BenchSupply::Output::off);  // battery and charger are in
    w.unplugged();
    QTest::qWait(200);
    panel.volts().setValue(100.0);
    CHECK(panel.volts().value() <= shipped_knowledge().find_topology(chained)->find_net("main")->volts);
    panel.volts().setValue(1.0);
    panel.limit().setValue(2.0);
    QTest::mouseClick(&panel.onButton(), Qt::LeftButton);
    REQUIRE(eventually([&] { return supply.amps().value_or(0.0) > 0.3; }));
    CHECK(*supply.volts() / *supply.amps() == Approx(1.5).margin(0.3));
    // Clip and probe see the same.
    pick(w.page.probeNet(), "main");
    w.page.function().setCurrentIndex(0);
    REQUIRE(eventually([&] { return w.workbench.multimeter.value().value_or(0.0) > 0.5; }));
    CHECK(*w.workbench.multimeter.value() == Approx(*supply.volts()).margin(0.15));
    // As a quick line that waits for the hottest part.
    QTest::mouseClick(&panel.readingButton(), Qt::LeftButton);
    CHECK(w.window.station() == MainWindow::BenchStation);
    CHECK(find_page<BenchPage>(w.window).quickLine().field().text().startsWith("inject main 1v 2a"));
    w.workbench.session.edit("strip", [](Job& job) { job.bench.battery_in = true; });
    REQUIRE(eventually([&] { return supply.output() == BenchSupply::Output::off; }));
    CHECK(supply.why_off().contains("battery"));
}

TEST_CASE("closing the window switches the supply off", "[app][instruments]") {
    BenchProcess bench({"--topology", chained, "--unplugged"});
    BenchSupply watcher;
    {
        Window w;
        w.press(Qt::Key_N, Qt::ControlModifier);
        w.press(Qt::Key_Return);
        w.window.connectSupply(bench.supply());
        w.workbench.session.edit("strip", [](Job& job) {
            job.ticket.topology = chained;
            job.bench.battery_in = false;
            job.bench.charger_connected = false;
        });
        REQUIRE(eventually([&] { return w.workbench.supply.line().ready(); }));
        QTest::mouseClick(&find_page<InstrumentsPage>(w.window).supplyPanel().onButton(), Qt::LeftButton);
        REQUIRE(eventually([&] { return w.workbench.supply.output() == BenchSupply::Output::on; }));
        w.window.close();
        CHECK(w.workbench.supply.output() == BenchSupply::Output::off);
    }
    ScpiLine line;
    QByteArray output;
    QObject::connect(&line, &ScpiLine::identified,
                     [&] { line.ask("OUTP?", [&](const QByteArray& answer) { output = answer; }); });
    line.open(bench.supply());
    REQUIRE(eventually([&] { return !output.isEmpty(); }));
    CHECK(output == "0");
}

TEST_CASE("a meter with other columns is read once its columns are set, and they are remembered",
          "[app][instruments]") {
    QTcpServer server;
    QTcpSocket* client = nullptr;
    REQUIRE(server.listen(QHostAddress::LocalHost, 0));
    QObject::connect(&server, &QTcpServer::newConnection, [&] { client = server.nextPendingConnection(); });
    {
        Window w;
        w.press(Qt::Key_F10);
        InstrumentsPage& page = find_page<InstrumentsPage>(w.window);
        w.window.connectMeter(QStringLiteral("127.0.0.1:%1").arg(server.serverPort()));
        REQUIRE(eventually([&] { return client != nullptr; }));
        client->write("20.01;x;1.5\n");
        REQUIRE(eventually([&] { return w.workbench.feed.nonsense_lines() == 1; }));
        QTest::qWait(300);
        const auto labels = page.findChildren<QLabel*>();
        CHECK(std::any_of(labels.begin(), labels.end(),
                          [](const QLabel* label) { return label->text().contains("20.01;x;1.5"); }));
        page.columns().time().setValue(0);
        page.columns().volts().setValue(1);
        page.columns().amps().setValue(3);
        const auto boxes = page.columns().findChildren<QComboBox*>();
        for (QComboBox* box : boxes) {
            if (const int semicolon = box->findText("semicolon"); semicolon >= 0)
                box->setCurrentIndex(semicolon);
        }
        client->write("20.01;x;1.5\n");
        REQUIRE(eventually([&] { return w.workbench.feed.last().volts == 20.01; }));
        CHECK(w.workbench.feed.last().amps == 1.5);
        w.window.close();
    }
    CHECK(Preferences().meterColumns().amps == 2);
    Preferences().setMeterColumns({});
}

TEST_CASE("why an instrument does not answer stands on its card", "[app][instruments]") {
    Window w;
    w.press(Qt::Key_F10);
    InstrumentsPage& page = find_page<InstrumentsPage>(w.window);
    page.multimeterCard().address().setText("nonsense");
    QTest::mouseClick(&page.multimeterCard().connectButton(), Qt::LeftButton);
    REQUIRE(eventually([&] { return page.multimeterCard().problem().contains("host:port"); }));
    page.supplyCard().address().setText("127.0.0.1:1");
    QTest::mouseClick(&page.supplyCard().connectButton(), Qt::LeftButton);
    REQUIRE(eventually([&] { return page.supplyCard().problem().contains("Nothing answers"); }));
    CHECK(page.supplyCard().state().contains("trying"));
    QTest::mouseClick(&page.supplyCard().connectButton(), Qt::LeftButton);
    REQUIRE(eventually([&] { return page.supplyCard().state().contains("not connected"); }));
}
