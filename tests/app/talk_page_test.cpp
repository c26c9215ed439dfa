// SPDX-License-Identifier: GPL-3.0-or-later
// The page of the CC line in the real window: a recorder, files, the verdict, and the reading that it gives.
#include <QAbstractItemModelTester>
#include <QSignalSpy>
#include <fstream>

#include "app/screens/check/check_page.h"
#include "app/screens/talk/talk_page.h"
#include "app/services/opened_file.h"
#include "core/usbc/message_list.h"
#include "tests/app/app_fixture.h"
#include "tests/support/talk.h"

using namespace eh;
using namespace eh::test;

namespace {

QStringList rows_of(TalkPage& page) {
    QStringList rows;
    const auto* model = page.ladder().model();
    for (int row = 0; row < model->rowCount(); ++row)
        rows += model->index(row, 0).data().toString();
    return rows;
}

std::vector<pd::SeenFrame> unheard_offers(int times) {
    const auto offers = sixty_watts();
    pd::TalkWriter talk;
    for (int i = 0; i < times; ++i) {
        talk.wait_until(0.2 + 0.15 * i);
        talk.offer(offers, false);
    }
    return seen(talk.frames());
}

}  // namespace

TEST_CASE("a capture that is opened becomes a ladder, a verdict and, by one key, a reading", "[app][talk]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    const QString file = w.folder.filePath("talk.json");
    std::ofstream(file.toStdString()) << pd::write_messages(unheard_offers(20));
    w.press(Qt::Key_F7);
    TalkPage& page = find_page<TalkPage>(w.window);
    REQUIRE(w.window.station() == MainWindow::TalkStation);
    CHECK_FALSE(page.readingButton().isEnabled());
    w.window.openFile(file);
    REQUIRE(eventually([&] { return w.workbench.talk_recording.known(); }));
    CHECK(page.verdict().contains("nobody acknowledged"));
    const QStringList rows = rows_of(page);
    REQUIRE(rows.size() == 1);
    CHECK(rows[0].contains("20 times"));
    CHECK(rows[0].contains("150 ms"));

    const std::size_t before = w.job().readings.size();
    QTest::mouseClick(&page.readingButton(), Qt::LeftButton);
    REQUIRE(w.job().readings.size() == before + 1);
    const Reading& reading = w.job().readings.back();
    CHECK(reading.kind() == ReadingKind::talk);
    CHECK(std::get<TalkReading>(reading.value).end == NegotiationEnd::unanswered);
    CHECK(reading.configuration == w.job().bench);
    CHECK(w.window.station() == MainWindow::BenchStation);
    w.press(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.job().readings.size() == before);
}

TEST_CASE("a file that is no capture is refused in words, and what stood stays", "[app][talk]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    w.press(Qt::Key_F7);
    const QString good = w.folder.filePath("good.json");
    std::ofstream(good.toStdString()) << pd::write_messages(unheard_offers(3));
    const QString bad = w.folder.filePath("bad.vcd");
    std::ofstream(bad.toStdString()) << "$timescale 1 parsec $end\n";
    QSignalSpy refused(&w.workbench.talk_recording, &TalkRecording::refused);
    w.window.openFile(good);
    REQUIRE(eventually([&] { return w.workbench.talk_recording.known(); }));
    w.window.openFile(bad);
    REQUIRE(eventually([&] { return refused.count() == 1; }));
    CHECK_THAT(refused.front().front().toString().toStdString(), Catch::Contains("time scale"));
    CHECK(rows_of(find_page<TalkPage>(w.window)).size() == 1);
    w.window.openFile(w.folder.filePath("nothing.vcd"));
    REQUIRE(eventually([&] { return refused.count() == 2; }));
    CHECK(rows_of(find_page<TalkPage>(w.window)).size() == 1);
}

TEST_CASE("a capture that does not say how it is to be read asks in a small form", "[app][talk]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    const auto offers = sixty_watts();
    pd::TalkWriter talk;
    talk.wait_until(0.0005);
    talk.offer(offers);
    talk.request(asking(4), offers[3]);
    const auto edges = pd::edges_of(talk.frames());
    const QString file = w.folder.filePath("samples.bin");
    {
        std::ofstream stream(file.toStdString(), std::ios::binary);
        std::size_t next = 0;
        bool high = false;
        for (int i = 0; 4e-7 * i < talk.now_s() + 1e-3; ++i) {
            for (; next < edges.size() && edges[next] <= 4e-7 * i; ++next)
                high = !high;
            stream << (high ? '\x01' : '\0');
        }
    }
    w.window.openFile(file);
    TalkPage& page = find_page<TalkPage>(w.window);
    REQUIRE(w.window.station() == MainWindow::TalkStation);
    REQUIRE(eventually([&] { return page.form().isVisible(); }));
    CHECK_FALSE(page.verdict().contains("Nothing was said"));
    CHECK(page.form().question().contains("changes"));
    CHECK(page.form().rate().value() == Approx(2.5));
    const std::size_t before = w.job().readings.size();
    page.takeReading();
    CHECK(w.job().readings.size() == before);  // nothing is known yet
    QTest::mouseClick(&page.form().readButton(), Qt::LeftButton);
    REQUIRE(eventually([&] { return !page.form().isVisible(); }));
    CHECK(rows_of(page).join(' ').contains("offer 4"));
    QTest::mouseClick(&page.otherwiseButton(), Qt::LeftButton);
    CHECK(page.form().isVisible());
    CHECK(page.form().how().samples_a_second == 2.5e6);
}

TEST_CASE("a dropped file goes where its content belongs", "[app][talk]") {
    Window w;
    const auto written = [&](const char* name, const std::string& text) {
        const QString file = w.folder.filePath(name);
        std::ofstream(file.toStdString(), std::ios::binary) << text;
        return file;
    };
    const std::string capture = pd::write_messages(unheard_offers(3));
    CHECK(kind_of(written("talk.txt", capture)) == OpenedFile::capture);
    CHECK(kind_of(written("job.csv", R"({"format": "eager-hound.job/1"})")) == OpenedFile::job);
    CHECK(kind_of(written("a.csv", "a meter's words\nt_ms,milliamps,volts\n0,1,5\n")) == OpenedFile::trace);
    CHECK(kind_of(written("b.csv", "0.0,5.0,0.1\n0.02,5.0,0.1\n0.04,5.0,0.1\n")) == OpenedFile::trace);
    CHECK(kind_of(written("c.csv", "0.0,0.0,0.1\n4e-7,1.0,0.1\n8e-7,0.0,0.1\n")) == OpenedFile::capture);
    CHECK(kind_of(written("d.csv", "Time [s];CC1\n0,0;0\n0,1;1\n")) == OpenedFile::capture);
    CHECK(kind_of(written("e.txt", "META rate\n$timescale 1 ns $end\n")) == OpenedFile::capture);
    CHECK(kind_of(written("f.csv", "only words\n")) == OpenedFile::job);
    CHECK(kind_of(written("g.csv", "")) == OpenedFile::job);
    CHECK(kind_of(w.folder.filePath("is not there")) == OpenedFile::job);
}

TEST_CASE("a long capture is read beside the window and can be stopped", "[app][talk]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    const QString file = w.folder.filePath("long.csv");
    {
        std::ofstream stream(file.toStdString());
        stream << "t_s,cc1_volts\n";
        for (int i = 0; i < 4'000'000; ++i)
            stream << 1e-6 * i << ",0.0\n";
    }
    QSignalSpy refused(&w.workbench.talk_recording, &TalkRecording::refused);
    w.press(Qt::Key_F7);
    w.workbench.talk_recording.load(file);
    CHECK(w.workbench.talk_recording.loading());
    QTest::qWait(20);
    w.workbench.talk_recording.cancel();
    REQUIRE(eventually([&] { return !w.workbench.talk_recording.loading(); }));
    REQUIRE(eventually([&] { return refused.count() == 1; }));
    CHECK_FALSE(w.workbench.talk_recording.known());
}

TEST_CASE("charger, cable and machine are checked as they are entered, and CC volts are explained",
          "[app][check]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    w.press(Qt::Key_F7);
    find_tabs(w.window, "cc tabs").setCurrentIndex(1);
    CheckPage& page = find_page<CheckPage>(w.window);
    page.label().setPlainText("5V 3A, 20V 5A");
    page.watts().setValue(90.0);
    CHECK(page.contract().startsWith("20 V 3 A"));
    CHECK_THAT(page.notes().toStdString(), Catch::Contains("not marked for 5 A"));
    page.mark().setCurrentIndex(1);
    CHECK(page.contract().startsWith("20 V 5 A"));
    CHECK(page.contract().contains("100 W"));
    page.length().setValue(6.0);
    CHECK_THAT(page.notes().toStdString(), Catch::Contains("shorter or thicker"));
    page.label().setPlainText("65 W");
    CHECK(page.contract() == QStringLiteral("–"));
    CHECK_THAT(page.ccFinding().toStdString(), Catch::Contains("No volts"));
    page.cc1().setValue(1.68);
    CHECK_THAT(page.ccFinding().toStdString(), Catch::Contains("3 A"));
    page.cc2().setValue(1.68);
    CHECK_THAT(page.ccFinding().toStdString(), Catch::Contains("both CC pins"));
}

TEST_CASE("the recorder of the simulated bench is asked, and the port on the strip is what talks",
          "[app][talk]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    const BenchProcess meter({"--topology", chained, "--fault", "controller_stuck@pc2"});
    w.window.connectMeter(meter.address());
    TalkPage& page = find_page<TalkPage>(w.window);
    w.press(Qt::Key_F7);
    REQUIRE(eventually([&] { return page.recordButton().isVisible(); }));
    const auto recorded = [&](const char* port) {
        w.workbench.session.edit("port", [&](Job& job) { job.bench.port = port; });
        QTest::qWait(300);
        w.workbench.talk_recording.clear();
        QTest::mouseClick(&page.recordButton(), Qt::LeftButton);
        REQUIRE(eventually([&] { return w.workbench.talk_recording.known(); }));
        return page.verdict();
    };
    CHECK(recorded("p2").contains("nobody acknowledged"));
    CHECK(recorded("p1").contains("asked for 5 V only"));
    CHECK(rows_of(page).join(' ').contains("The machine asks for offer 1"));
}

TEST_CASE("what is said is kept by the model as the view expects it", "[app][talk]") {
    TalkModel model;
    const QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::Fatal);
    std::vector<pd::SeenFrame> frames = unheard_offers(2);
    frames[1].frame.damage.bad_checksum = true;
    model.show(frames);
    REQUIRE(model.rowCount() == 2);
    CHECK(model.index(1, 0).data(TalkModel::DamageRole).toString().contains("checksum"));
    CHECK(model.index(1, 0).data(TalkModel::PauseRole).toDouble() == Approx(0.15).epsilon(0.01));
    const auto offers = sixty_watts();
    pd::TalkWriter talk;
    talk.offer(offers);
    talk.ask_cable(nullptr);
    talk.hard_reset();
    model.show(seen(talk.frames()));
    REQUIRE(model.rowCount() == 3);  // the acknowledgement is folded in
    CHECK(model.index(0, 0).data(TalkModel::AnswerRole).value<TalkModel::Answer>() ==
          TalkModel::Answer::acknowledged);
    CHECK(model.index(1, 0).data(TalkModel::ToRole).value<TalkModel::Lane>() == TalkModel::Lane::cable);
    CHECK(model.index(2, 0).data(TalkModel::FromRole).value<TalkModel::Lane>() == TalkModel::Lane::all);
    model.clear();
    CHECK(model.rowCount() == 0);
}
