// SPDX-License-Identifier: GPL-3.0-or-later
// The main job on real input: a real window, meter processes of their own, the keyboard.
#include <QProcess>

#include "app/screens/bench/bench_page.h"
#include "app/screens/handover/handover_page.h"
#include "app/screens/proof/proof_page.h"
#include "app/screens/repair/repair_page.h"
#include "core/proof/proof.h"
#include "tests/app/app_fixture.h"
#include "tests/support/seen.h"

using namespace eh;
using namespace eh::test;

namespace {

void start_job(Window& w) {
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    REQUIRE(w.job().ticket.topology == chained);
    // The shop's own charger and lead.
    w.press(Qt::Key_C);
    w.press(Qt::Key_L);
    REQUIRE(w.job().bench.charger == Owner::bench);
}

void connect_meter(Window& w, const QString& address) {
    w.window.connectMeter(address);
    REQUIRE(eventually([&] {
        return w.workbench.feed.state() == MeterFeed::State::lit ||
               w.workbench.feed.state() == MeterFeed::State::dark;
    }));
}

// Waits until the stream since the plug moved satisfies something.
template <typename Condition>
void watch(Window& w, Condition condition, int patience_ms = 30000) {
    REQUIRE(eventually(condition, patience_ms));
    (void)w;
}

}  // namespace

TEST_CASE("a shorted protector is found, replaced, proven and handed over", "[app][whole]") {
    Window w;
    start_job(w);
    std::vector<MeterSample> stream;
    QObject::connect(&w.workbench.feed, &MeterFeed::samplesArrived,
                     [&](const std::vector<MeterSample>& samples) {
                         stream.insert(stream.end(), samples.begin(), samples.end());
                     });
    {
        const BenchProcess meter(
            {"--topology", chained, "--fault", "protector_shorted@sp2=3.3/3", "--seed", "5"});
        connect_meter(w, meter.address());

        // Port 1 charges.
        watch(w, [&] { return !stream.empty() && stream.back().amps > 1.0; });
        QTest::qWait(5500);
        w.press(Qt::Key_Space);
        REQUIRE(w.job().readings.size() == 1);
        CHECK(meter_of(w.job().readings[0]).volts > 5.0);

        // Port 2: the source protects itself and tries again; the meter goes dark in between.
        w.press(Qt::Key_P);
        REQUIRE(w.job().bench.port == "p2");
        stream.clear();
        QTest::qWait(11500);
        const MeterSummary seen =
            summarise(stream, w.workbench.feed.now_s() - 10.0, w.workbench.feed.now_s());
        CHECK(seen.pattern == MeterPattern::cycling);
        CHECK(seen.peak_amps > 2.0);
        w.press(Qt::Key_Space);
        REQUIRE(w.job().readings.size() == 2);
        CHECK(meter_of(w.job().readings[1]).pattern == MeterPattern::cycling);
        CHECK(w.job().readings[1].configuration.port == "p2");
    }
    w.settle();
    // The suspects of that VBUS stand in front.
    double line = 0.0;
    for (const char* block : {"sp2", "cv2", "rec2", "sw2", "pc2"})
        line += w.suspicion(block);
    CHECK(line > 0.9);

    // Opened, battery out, ohms on both lines; then the protector comes off.
    w.press(Qt::Key_K);
    w.press(Qt::Key_O);
    w.press(Qt::Key_B);
    w.quick("vbus p2 3r3");
    w.quick("vbus p1 ol");
    w.press(Qt::Key_F4);
    find_page<RepairPage>(w.window).propose("sp2", Work::remove);
    REQUIRE(find_page<RepairPage>(w.window).record());
    CHECK(w.job().bench.removed == std::vector<std::string>{"sp2"});
    w.press(Qt::Key_F3);
    w.quick("vbus p2 ol");
    REQUIRE(w.job().readings.size() == 5);
    CHECK(w.job().readings[4].configuration.removed == std::vector<std::string>{"sp2"});
    w.settle();
    CHECK(w.suspicion("sp2") > 0.9);

    // The repair is due and is recorded.
    REQUIRE(eventually([&] { return w.workbench.diagnosis.answer().next.repair_due; }));
    w.press(Qt::Key_1);
    REQUIRE(w.window.station() == MainWindow::RepairStation);
    REQUIRE(find_page<RepairPage>(w.window).record());
    CHECK(w.job().acts.back().kind == Work::replace);
    CHECK(w.job().acts.back().block == "sp2");
    CHECK(w.job().bench.replaced == std::vector<std::string>{"sp2"});
    CHECK(w.job().bench.removed.empty());

    // Proof on a healthy machine, each step decided by one key.
    const BenchProcess healthy({"--topology", chained, "--seed", "9"});
    connect_meter(w, healthy.address());
    w.window.go(MainWindow::ProofStation);
    find_page<ProofPage>(w.window).makePlan();
    REQUIRE(w.job().proof.size() >= 8);
    for (std::size_t s = 0; s < w.job().proof.size(); ++s) {
        find_page<ProofPage>(w.window).table().selectRow(static_cast<int>(s));
        w.press(Qt::Key_U);
        if (w.job().proof[s].check == "battery")
            w.workbench.session.edit("battery", [](Job& job) {
                // Three readings over two minutes and the watts that go in.
                job.battery.machine_watts = 12.0;
                for (int i = 0; i < 13; ++i)
                    job.battery.readings.push_back({1000.0 + 10.0 * i, 11.40 + 0.01 * (i / 2), true, 40.0});
            });
        if (w.job().proof[s].check == "soak") {
            w.press(Qt::Key_Space);
            CHECK(w.job().proof[s].state == ProofState::open);
            REQUIRE(w.job().proof[s].started_ms > 0);
            CHECK(w.job().proof[s].minutes == 60.0);
            // Four seconds of it stand for the hour; the meter records them.
            constexpr double short_minutes = 0.066;
            w.workbench.session.edit("short soak", [=](Job& job) { job.proof[s].minutes = short_minutes; });
            QTest::qWait(4200);
        }
        if (w.job().proof[s].kind == ReadingKind::meter) {
            stream.clear();
            watch(w, [&] { return !stream.empty() && stream.back().amps > 1.2; });
            QTest::qWait(8500);
        }
        if (w.job().proof[s].kind == ReadingKind::hot_part) {
            // Space asks for the number first; a rise is measured, never assumed.
            w.press(Qt::Key_Space);
            CHECK(w.job().proof[s].state == ProofState::open);
            w.type("6");
            w.press(Qt::Key_Return);
        } else {
            w.press(Qt::Key_Space);
        }
        CAPTURE(s, w.job().proof[s].reason);
        CHECK(w.job().proof[s].state == ProofState::passed);
    }
    CHECK(proof_complete(w.job().proof));
    CHECK(w.job().stage == JobStage::handover);

    // The sheet holds the readings.
    const QString file = w.folder.filePath("handover.pdf");
    REQUIRE(find_page<HandoverPage>(w.window).write(HandoverPage::Format::pdf, file).ok());
    QProcess reader;
    reader.start("pdftotext", {"-layout", file, "-"});
    REQUIRE(reader.waitForFinished());
    const std::string text = reader.readAllStandardOutput().toStdString();
    for (const char* piece :
         {"3.30", "OL", "Surge protector of port 2", "coming and going", "passed", "replaced"}) {
        CAPTURE(piece);
        CHECK_THAT(text, Catch::Contains(piece));
    }
    CHECK_THAT(text, !Catch::Contains("FAILED"));
}

TEST_CASE("alike readings on all ports end on the shared things and the chain", "[app][whole]") {
    Window w;
    start_job(w);
    w.quick("p1 5.0 0.18");
    w.quick("p1 b 5.0 0.18");
    w.quick("p2 5.0 0.18");
    w.quick("p2 b 5.0 0.18");
    w.settle();
    double chain = 0.0;
    for (const char* block : {"mem", "pup", "enr", "pds", "fb1", "fb2", "pc1", "pc2", "cc1cap", "cc2cap",
                              "oc1", "oc2", "sd1", "sd2", "bpu", "bl1", "bl2"})
        chain += w.suspicion(block);
    CHECK(chain > 0.9);
    CHECK(w.suspicion("rec1") + w.suspicion("rec2") < 0.02);
    // What stands first on screen belongs to the chain.
    const QString first = find_page<BenchPage>(w.window)
                              .suspects()
                              .model()
                              ->index(0, 0)
                              .data(SuspectsModel::BlockRole)
                              .toString();
    CHECK(first != "rec1");
    CHECK(first != "rec2");
    CHECK_FALSE(first.isEmpty());
}

TEST_CASE("the window lives on while its meter goes away and comes back", "[app][whole]") {
    Window w;
    start_job(w);
    QString address;
    {
        const BenchProcess meter({"--topology", chained});
        address = meter.address();
        connect_meter(w, address);
        REQUIRE(eventually([&] { return w.workbench.feed.state() == MeterFeed::State::lit; }));
    }
    REQUIRE(eventually([&] { return w.workbench.feed.state() == MeterFeed::State::connecting; }));
    w.press(Qt::Key_Space);
    CHECK(w.job().readings.empty());
    const BenchProcess again({"--topology", chained, "--listen", address}, BenchProcess::What::meter);
    CHECK(eventually([&] { return w.workbench.feed.state() == MeterFeed::State::lit; }));
}
