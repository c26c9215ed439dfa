// SPDX-License-Identifier: GPL-3.0-or-later
// The page of the trace in the real window: events as readings, files in and out, port table, push test,
// ohms.
#include <QSignalSpy>
#include <QTableWidget>
#include <algorithm>
#include <fstream>

#include "app/screens/trace/events_panel.h"
#include "app/screens/trace/ohms_panel.h"
#include "app/screens/trace/ports_panel.h"
#include "app/screens/trace/push_panel.h"
#include "app/screens/trace/trace_page.h"
#include "core/trace/trace_csv.h"
#include "tests/app/app_fixture.h"
#include "tests/support/seen.h"

using namespace eh;
using namespace eh::test;

namespace {

void new_job(Window& w) {
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
}

// Half a minute of a charger that retries, then half a minute at 20 V.
std::vector<MeterSample> retries_then_charges(double start_s) {
    std::vector<MeterSample> samples;
    for (int i = 0; i < 1500; ++i) {
        const double t = 0.02 * i;
        if (std::fmod(t, 1.5) < 0.6)
            samples.push_back({start_s + t, 5.0, 2.0});
    }
    for (int i = 0; i < 1500; ++i)
        samples.push_back({start_s + 34.0 + 0.02 * i, 20.0, 1.3});
    return samples;
}

int row_of(EventsPanel& panel, const QString& words) {
    for (int row = 0; row < panel.table().rowCount(); ++row) {
        if (panel.table().item(row, 1)->text().contains(words))
            return row;
    }
    return -1;
}

}  // namespace

TEST_CASE("what the recording shows is listed, and each event becomes a reading", "[app][trace]") {
    Window w;
    new_job(w);
    TracePage& page = find_page<TracePage>(w.window);
    w.press(Qt::Key_F8);
    REQUIRE(w.window.station() == MainWindow::TraceStation);
    // Ten seconds of a charger that retries, since the job was opened.
    const double start_s = w.workbench.feed.now_s();
    std::vector<MeterSample> retries;
    for (int i = 0; i < 500; ++i) {
        if (std::fmod(0.02 * i, 1.25) < 0.5)
            retries.push_back({start_s + 0.02 * i, 5.0, 2.0});
    }
    w.workbench.recording.append(retries);
    QTest::qWait(10000);
    page.showAll();
    REQUIRE(eventually([&] { return row_of(page.events(), "every") >= 0; }));
    CHECK(page.events().table().rowCount() == 1);  // what the cycle consists of is not listed beside it
    page.events().table().setCurrentCell(0, 0);
    const std::size_t before = w.job().readings.size();
    QTest::mouseClick(&page.events().takeButton(), Qt::LeftButton);
    REQUIRE(w.job().readings.size() == before + 1);
    const Reading& reading = w.job().readings.back();
    CHECK(reading.kind() == ReadingKind::meter);
    CHECK(meter_of(reading).pattern == MeterPattern::cycling);
    CHECK(meter_of(reading).period_s == Approx(1.25).epsilon(0.05));
    CHECK(reading.configuration == w.job().bench);
    w.press(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.job().readings.size() == before);
}

TEST_CASE("an event from before the job was opened is no reading: nobody knows how the bench stood",
          "[app][trace]") {
    Window w;
    new_job(w);
    TracePage& page = find_page<TracePage>(w.window);
    QSignalSpy said(&page, &TracePage::said);
    w.workbench.recording.append(retries_then_charges(w.workbench.feed.now_s() - 100.0));
    w.press(Qt::Key_F8);
    page.showAll();
    REQUIRE(eventually([&] { return row_of(page.events(), "every") >= 0; }));
    page.events().table().setCurrentCell(row_of(page.events(), "every"), 0);
    const std::size_t before = w.job().readings.size();
    QTest::mouseClick(&page.events().takeButton(), Qt::LeftButton);
    CHECK(w.job().readings.size() == before);
    REQUIRE(said.count() == 1);
    CHECK_THAT(said.front().front().toString().toStdString(), Catch::Contains("not known"));
}

TEST_CASE("a recording goes out as CSV and comes back the same, beside the job's own", "[app][trace]") {
    Window w;
    new_job(w);
    TracePage& page = find_page<TracePage>(w.window);
    const double start_s = w.workbench.feed.now_s() - 100.0;
    const auto samples = retries_then_charges(start_s);
    w.workbench.recording.append(samples);
    w.press(Qt::Key_F8);
    const QString file = w.folder.filePath("out.csv");
    REQUIRE(page.exportTo(file).ok());
    std::ifstream stream(file.toStdString());
    const auto read = read_trace_csv(stream, "out.csv");
    REQUIRE(read.ok());
    REQUIRE(read->samples.size() == samples.size());
    CHECK(read->samples.back().t_s == Approx(samples.back().t_s).epsilon(1e-12));
    CHECK(read->samples.back().amps == Approx(1.3).epsilon(1e-6));

    std::ofstream(file.toStdString(), std::ios::app) << "burnt, toast, and text\n";
    w.window.go(MainWindow::ShelfStation);
    w.window.openFile(file);
    CHECK(w.window.station() == MainWindow::TraceStation);
    REQUIRE(eventually([&] { return page.showsFile(); }));
    REQUIRE(eventually([&] { return page.events().table().rowCount() > 0; }));
    CHECK(w.workbench.recording.record().samples() == samples.size());  // the job's own is untouched
    page.showJob();
    CHECK_FALSE(page.showsFile());
    // A file that is none leaves everything as it was.
    const QString bad = w.folder.filePath("bad.csv");
    std::ofstream(bad.toStdString()) << "t_s,volts,amps\nnothing\n";
    page.importFile(bad);
    REQUIRE(eventually([&] { return !page.importing(); }));
    QTest::qWait(50);
    CHECK_FALSE(page.showsFile());
}

TEST_CASE("a long file can be stopped while it is read, and the window lives meanwhile", "[app][trace]") {
    Window w;
    new_job(w);
    TracePage& page = find_page<TracePage>(w.window);
    const QString file = w.folder.filePath("long.csv");
    {
        std::ofstream stream(file.toStdString());
        stream << "t_s,volts,amps\n";
        for (int i = 0; i < 3'000'000; ++i)
            stream << i << ",20.0,1.0\n";
    }
    w.press(Qt::Key_F8);
    QElapsedTimer between;
    qint64 longest = 0;
    QTimer beat;
    QObject::connect(&beat, &QTimer::timeout, [&] {
        longest = std::max(longest, between.isValid() ? between.elapsed() : 0);
        between.start();
    });
    beat.start(5);
    page.importFile(file);
    QTest::qWait(100);
    const auto buttons = page.findChildren<QPushButton*>();
    const auto stop = std::find_if(buttons.begin(), buttons.end(),
                                   [](const QPushButton* button) { return button->text() == "Stop"; });
    REQUIRE(stop != buttons.end());
    if (page.importing()) {
        CHECK((*stop)->isVisible());
        (*stop)->click();
    }
    REQUIRE(eventually([&] { return !page.importing(); }));
    CHECK(longest < 1000);
}

TEST_CASE("the port table says whether the ports are alike", "[app][trace]") {
    Window w;
    new_job(w);
    w.quick("p1 5.02 0.13");
    w.quick("p2 5.01 0.45");
    w.press(Qt::Key_F8);
    TracePage& page = find_page<TracePage>(w.window);
    page.tabs().setCurrentIndex(1);
    CHECK(page.ports().table().rowCount() == 2);
    CHECK_THAT(page.ports().verdict().toStdString(), Catch::Contains("differ"));
    CHECK(page.ports().table().item(0, 4)->text() == "0.130 A");
}

TEST_CASE("the push test guides for twenty seconds, counts and gives its reading", "[app][trace]") {
    Window w;
    new_job(w);
    w.quick("p1 20 1.3");
    const BenchProcess bench({"--topology", chained});
    w.window.connectMeter(bench.address());
    // Until the machine draws what it charges with.
    REQUIRE(eventually([&] { return w.workbench.feed.last().amps > 1.0; }, 40000));
    w.press(Qt::Key_F8);
    TracePage& page = find_page<TracePage>(w.window);
    page.tabs().setCurrentIndex(2);
    PushPanel& push = page.push();
    QTest::mouseClick(&push.startButton(), Qt::LeftButton);
    CHECK(push.running());
    CHECK_FALSE(push.takeButton().isEnabled());
    // Somebody pulls the plug for a moment in the middle.
    QTest::qWait(9000);
    w.workbench.feed.command("charger off");
    QTest::qWait(300);
    w.workbench.feed.command("charger on");
    REQUIRE(eventually([&] { return !push.running(); }, 30000));
    CHECK(push.report().verdict == WiggleVerdict::drops_out);
    // No exact count: where the machine that runs this stands still, the simulated meter stops talking, which
    // is a drop-out to whoever counts. wiggle_test counts on samples that nothing can delay.
    const auto down =
        std::find_if(push.report().stretches.begin(), push.report().stretches.end(),
                     [](const WiggleStretch& stretch) { return stretch.direction == WiggleDirection::down; });
    REQUIRE(down != push.report().stretches.end());
    CHECK(down->drop_outs >= 1);
    const std::size_t before = w.job().readings.size();
    QTest::mouseClick(&push.takeButton(), Qt::LeftButton);
    REQUIRE(w.job().readings.size() == before + 1);
    CHECK(w.job().readings.back().kind() == ReadingKind::wiggle);
    CHECK(std::get<WiggleReading>(w.job().readings.back().value).drops_out);
}

TEST_CASE("volts on the board at the same amps give the contact's ohms and heat", "[app][trace]") {
    Window w;
    new_job(w);
    w.press(Qt::Key_F8);
    TracePage& page = find_page<TracePage>(w.window);
    page.tabs().setCurrentIndex(3);
    CHECK_THAT(page.ohms().source().toStdString(), Catch::Contains("Not enough"));
    const double now_s = w.workbench.feed.now_s();
    std::vector<MeterSample> load;
    for (int i = 0; i < 100; ++i)
        load.push_back({now_s - 2.0 + 0.02 * i, 20.0, 2.0});
    w.workbench.recording.append(load);
    page.ohms().boardVolts().setValue(19.0);
    // Ohm's law: 1 V at 2 A.
    CHECK_THAT(page.ohms().contact().toStdString(), Catch::Contains("500 mΩ"));
    CHECK_THAT(page.ohms().contact().toStdString(), Catch::Contains("2.0 W"));
    CHECK_THAT(page.ohms().contact().toStdString(), Catch::Contains("unattended"));
}
