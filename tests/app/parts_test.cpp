// SPDX-License-Identifier: GPL-3.0-or-later
// The window's parts by themselves: recording, session, service, formats, views.
#include <QAbstractItemModelTester>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalSpy>
#include <QSortFilterProxyModel>
#include <QTableView>
#include <algorithm>
#include <map>
#include <set>

#include "app/demo/demo_shop.h"
#include "app/format/text.h"
#include "app/models/acts_model.h"
#include "app/screens/bench/bench_page.h"
#include "app/screens/bench/live_readout.h"
#include "app/screens/proof/proof_page.h"
#include "app/screens/repair/repair_page.h"
#include "app/screens/shelf/shelf_page.h"
#include "app/services/meter_recording.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("probabilities are shown without claiming certainty", "[app][format]") {
    CHECK(format::percent(0.0) == "0 %");
    CHECK(format::percent(0.004) == "<1 %");
    CHECK(format::percent(0.5) == "50 %");
    CHECK(format::percent(0.934) == "93 %");
    CHECK(format::percent(0.9995) == ">99 %");
    CHECK(format::percent(1.0) == "100 %");
}

TEST_CASE("minutes, stages and weights have words", "[app][format]") {
    CHECK(format::minutes(0.2) == "1 min");
    CHECK(format::minutes(59.0) == "59 min");
    CHECK(format::minutes(80.0) == "1 h 20");
    std::set<QString> stages;
    for (int s = 0; s < job_stage_count; ++s) {
        stages.insert(format::stage(static_cast<JobStage>(s)));
        CHECK_FALSE(format::waitsFor(WaitsFor::bench, static_cast<JobStage>(s)).isEmpty());
    }
    CHECK(stages.size() == job_stage_count);
    CHECK(format::weightWords(5.0).contains("strongly for"));
    CHECK(format::weightWords(-5.0).contains("strongly against"));
    CHECK(format::weightWords(0.0).contains("little"));
    CHECK(format::dateTime(0).isEmpty());
    CHECK_FALSE(format::dateTime(1795000000000).isEmpty());
}

TEST_CASE("the recording keeps order and summarises what is asked, and each job has its own on disk",
          "[app][recording]") {
    const QTemporaryDir folder;
    std::uint64_t kept = 0;
    {
        MeterRecording recording;
        recording.keepIn(folder.path().toStdString());
        recording.openJob("one", 1000.0);
        QSignalSpy appended(&recording, &MeterRecording::appended);
        recording.append({{1.0, 5.0, 0.1}, {2.0, 5.0, 0.1}, {1.5, 9.0, 9.0}, {3.0, 5.25, 0.3}});
        CHECK(appended.count() == 1);
        CHECK(recording.record().samples() == 3);  // the one that went back in time is left out
        CHECK(recording.between(1.5, 3.0).size() == 1);
        CHECK(recording.between(0.0, 99.0).size() == 3);
        CHECK(recording.between(5.0, 6.0).empty());
        CHECK(recording.lastSeconds(3.1, 0.5).volts == Approx(5.25));
        recording.markGap(4.0);
        CHECK(recording.record().gaps(0.0, 10.0).size() == 1);
        kept = recording.record().samples();
        recording.openJob("two", 1000.0);
        CHECK(recording.empty());
        recording.append({{900.0, 20.0, 1.0}});
    }
    MeterRecording again;
    again.keepIn(folder.path().toStdString());
    again.openJob("one", 1000.0);
    CHECK(again.record().samples() == kept);
    CHECK(again.record().gaps(0.0, 10.0).size() == 1);
    // A clock that was set back: what claims to be of later is put aside, not lost and not in the way.
    again.openJob("two", 500.0);
    CHECK(again.empty());
    again.append({{501.0, 5.0, 0.1}});
    CHECK(again.record().samples() == 1);
    CHECK(QDir(folder.path()).entryList({"two.trace.before-*"}).size() == 1);
}

TEST_CASE("a recording whose place cannot be written is kept elsewhere, and that is said",
          "[app][recording]") {
    const QTemporaryDir folder;
    QFile other(folder.filePath("job.trace"));
    REQUIRE(other.open(QIODevice::WriteOnly));
    other.write("something else, and long enough to be looked at");
    other.close();
    MeterRecording recording;
    QSignalSpy trouble(&recording, &MeterRecording::trouble);
    recording.keepIn(folder.path().toStdString());
    recording.openJob("job", 1000.0);
    CHECK(trouble.count() == 1);
    recording.append({{1.0, 5.0, 0.1}});
    CHECK(recording.record().samples() == 1);
    REQUIRE(other.open(QIODevice::ReadOnly));
    CHECK(other.readAll().startsWith("something else"));
}

TEST_CASE("the session: an edit that changes nothing leaves no trace, merging is by key", "[app][session]") {
    JobSession session;
    QSignalSpy changed(&session, &JobSession::changed);
    Job job;
    job.id = "x";
    session.open(job);
    CHECK(changed.count() == 1);
    session.edit("nothing", [](Job&) {});
    CHECK(session.undoStack().count() == 0);
    CHECK(changed.count() == 1);
    session.edit(
        "a", [](Job& j) { j.ticket.customer = "A"; }, "customer");
    session.edit(
        "a", [](Job& j) { j.ticket.customer = "Ab"; }, "customer");
    session.edit(
        "b", [](Job& j) { j.ticket.machine = "M"; }, "machine");
    CHECK(session.undoStack().count() == 2);
    session.undoStack().undo();
    session.undoStack().undo();
    CHECK(session.job() == job);
    session.undoStack().redo();
    CHECK(session.job().ticket.customer == "Ab");
    const std::string first = session.addReading(meter_reading("ignored", plugged("p1"), MeterPattern::dark));
    const std::string second =
        session.addReading(meter_reading("ignored", plugged("p1"), MeterPattern::dark));
    CHECK(first != second);
    CHECK(session.job().stage == JobStage::bench);
    session.close();
    CHECK_FALSE(session.hasJob());
}

TEST_CASE("a store that fails is said, and the job stays as edited", "[app][session]") {
    const QTemporaryDir folder;
    const std::filesystem::path file = folder.filePath("shop.sqlite").toStdString();
    JobRepository repository;
    REQUIRE(shop_opened(repository, file, {}).ok());
    auto other = JobStore::open(file);
    REQUIRE(other.ok());
    JobSession session(&repository);
    QSignalSpy trouble(&repository, &JobRepository::trouble);
    const auto written = [&] { REQUIRE(eventually([&] { return repository.idle(); })); };
    Job job;
    job.id = "x";
    session.open(job);
    session.edit("a", [](Job& j) { j.ticket.customer = "mine"; });
    written();
    CHECK(trouble.isEmpty());
    Job theirs = *(*other)->load("x");
    theirs.ticket.customer = "theirs";
    REQUIRE((*other)->save(theirs).ok());
    session.edit("b", [](Job& j) { j.ticket.machine = "M"; });
    written();
    REQUIRE(trouble.count() == 1);
    CHECK(trouble.first().first().toString().contains("another window"));
    CHECK(session.job().ticket.machine == "M");
}

TEST_CASE("the reasoning answers the newest question only, and a refused one at once", "[app][service]") {
    DiagnosisService service(shipped_knowledge(), shipped_costs());
    QSignalSpy finished(&service, &DiagnosisService::finished);
    QSignalSpy refused(&service, &DiagnosisService::refused);
    Job job;
    job.ticket.topology = barrel;
    job.bench = plugged("p1");
    for (int i = 0; i < 4; ++i) {
        job.readings.push_back(
            meter_reading("r" + std::to_string(i), plugged("p1"), MeterPattern::steady, 19.4, 0.7));
        service.ask(job);
    }
    CHECK(service.busy());
    REQUIRE(eventually([&] { return !service.busy(); }, 60000));
    CHECK(finished.count() == 1);
    CHECK(service.answer().readings.size() == 4);
    CHECK(service.answer().next_complete);
    CHECK_FALSE(service.answer().path.nets.empty());
    job.ticket.topology = "teapot";
    service.ask(job);
    CHECK(refused.count() == 1);
    CHECK_FALSE(service.busy());
    job.ticket.topology = barrel;
    service.ask(job);
    service.cancel();
    QTest::qWait(300);
    CHECK(finished.count() == 1);
}

TEST_CASE("the demo shop has six jobs in different stages, made anew each time", "[app][demo]") {
    for (int round = 0; round < 2; ++round) {
        const auto file = make_demo_shop(default_data_directory());
        REQUIRE(file.ok());
        auto store = JobStore::open(*file);
        REQUIRE(store.ok());
        const auto jobs = (*store)->list();
        REQUIRE(jobs.ok());
        CHECK(std::count_if(jobs->begin(), jobs->end(),
                            [](const JobSummary& job) { return job.id.rfind("demo-earlier", 0) != 0; }) == 6);
        std::set<JobStage> stages;
        for (const JobSummary& job : *jobs)
            stages.insert(job.stage);
        CHECK(stages.size() >= 5);
        REQUIRE((*store)->remove(jobs->front().id).ok());
    }
}

TEST_CASE("the demo's meter can be started anew on another machine, and says what goes wrong",
          "[app][demo]") {
    BenchSimulator meter;
    QSignalSpy listening(&meter, &BenchSimulator::meterListening);
    QSignalSpy failed(&meter, &BenchSimulator::failed);
    QStringList addresses;
    for (const char* machine : {chained, barrel}) {
        listening.clear();
        meter.start({"--topology", machine});
        REQUIRE(eventually([&] { return listening.count() == 1; }));
        addresses << listening.front().front().toString();
    }
    CHECK(addresses[0] != addresses[1]);
    CHECK(failed.isEmpty());
    meter.start({"--topology", "teapot"});
    REQUIRE(eventually([&] { return failed.count() == 1; }));
    CHECK_THAT(failed.front().front().toString().toStdString(), Catch::Contains("teapot"));
}

TEST_CASE("the charge path: parts can be picked by mouse and keyboard, and say how they stand",
          "[app][path]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    REQUIRE(
        eventually([&] { return find_page<BenchPage>(w.window).suspects().model()->rowCount() > 0; }, 60000));
    w.window.resize(1280, 900);  // lower, the path folds what is least suspected
    QCoreApplication::processEvents();
    ChargePathView& path = find_page<BenchPage>(w.window).path();
    std::set<std::string> parts;
    QPoint where;
    for (int y = 0; y < path.height(); y += 4) {
        for (int x = 0; x < path.width(); x += 8) {
            const std::string part = path.partAt({x, y});
            if (!part.empty())
                parts.insert(part);
            if (part == "sp2")
                where = {x, y};
        }
    }
    // Every part of the machine, and charger and lead, has a place.
    CHECK(parts.size() == topology(chained).blocks.size() + 2);
    QSignalSpy picked(&path, &ChargePathView::partPicked);
    QTest::mouseClick(&path, Qt::LeftButton, Qt::NoModifier, where);
    CHECK(picked.count() == 1);
    const QModelIndex open = find_page<BenchPage>(w.window).suspects().currentIndex();
    CHECK(open.data(SuspectsModel::BlockRole).toString() == "sp2");
    CHECK(find_page<BenchPage>(w.window).suspects().isExpanded(open));
    path.setFocus();
    QTest::keyClick(&path, Qt::Key_Down);
    CHECK(picked.count() == 2);
    // The evidence names each reading that counts, and the rate before them.
    CHECK(find_page<BenchPage>(w.window).suspects().model()->rowCount(open) ==
          1 + static_cast<int>(w.job().readings.size()));
}

TEST_CASE("with four ports every part shown can be read, and the suspected ones are shown", "[app][path]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.workbench.session.edit("kind", [](Job& job) { job.ticket.topology = "usbc-four-chained"; });
    w.window.go(MainWindow::BenchStation);
    w.settle();
    ChargePathView& path = find_page<BenchPage>(w.window).path();
    std::map<std::string, std::pair<int, int>> reach;  // first and last row of each part
    for (int x = 4; x < path.width(); x += 8) {
        for (int y = 0; y < path.height(); ++y) {
            const std::string part = path.partAt({x, y});
            if (!part.empty()) {
                const auto [at, fresh] = reach.emplace(part, std::pair(y, y));
                at->second = {std::min(at->second.first, y), std::max(at->second.second, y)};
            }
        }
    }
    CHECK(reach.count("sp2") == 1);
    for (const auto& [part, rows] : reach) {
        CAPTURE(part);
        CHECK(rows.second - rows.first >= 15);
    }
}

TEST_CASE("between two flashes the readout shows no zeros", "[app][readout]") {
    const BenchProcess meter({"--topology", chained, "--seed", "4"});
    MeterRecording recording;
    MeterFeed feed;
    LiveReadout readout(recording, feed);
    CHECK_FALSE(readout.hasNumbers());
    feed.open(meter.address());
    // Lines arrive, but none is in the record: what a collapse between two flashes looks like.
    REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::lit; }));
    CHECK_FALSE(readout.hasNumbers());
    recording.append({{feed.now_s() - 0.05, 20.0, 1.5}});
    CHECK(readout.hasNumbers());
    QTest::qWait(600);
    CHECK_FALSE(readout.hasNumbers());
}

TEST_CASE("the intake fits a screen of 1280 pixels", "[app][pages]") {
    Window w;
    CHECK(w.window.minimumSizeHint().width() <= 1280);
    CHECK(w.window.minimumSizeHint().height() <= 800);
}

TEST_CASE("the roll follows, scrolls back, and comes back", "[app][roll]") {
    Window w;
    RollView& roll = find_page<BenchPage>(w.window).roll();
    CHECK(roll.following());
    QTest::qWait(1500);
    const double span = roll.span();
    roll.setSpan(10.0);
    CHECK(roll.span() == 10.0);
    roll.setSpan(0.001);
    CHECK(roll.span() >= 1.0);
    roll.setSpan(1e9);
    CHECK(roll.span() <= 3600.0);  // nothing longer has been recorded
    roll.setSpan(span);
    roll.follow();
    CHECK(roll.following());
    roll.mark(w.workbench.feed.now_s() - 0.5, "captured");
    // The whole of a recording that began two hours ago, then back in time and forward again.
    w.press(Qt::Key_N, Qt::ControlModifier);
    const double now_s = w.workbench.feed.now_s();
    std::vector<MeterSample> two_hours;
    for (int i = 0; i < 7200; ++i)
        two_hours.push_back({now_s - 7200.0 + i, 20.0, 1.0});
    w.workbench.recording.append(two_hours);
    roll.showAll();
    CHECK(roll.span() == Approx(7200.0).margin(10.0));
    roll.setSpan(60.0);
    roll.scroll(-30.0);
    CHECK_FALSE(roll.following());
    CHECK(roll.end_s() == Approx(now_s - 1800.0).margin(10.0));
    roll.scroll(-1000.0);
    CHECK(roll.end_s() == Approx(now_s - 7200.0 + 60.0).margin(10.0));
    roll.scroll(1000.0);
    CHECK(roll.following());
}

TEST_CASE("the repair record refuses numbers that are none, and undo takes an act back whole",
          "[app][repair]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    const Job before = w.job();
    w.window.go(MainWindow::RepairStation);
    RepairPage& page = find_page<RepairPage>(w.window);
    page.propose("sp2", Work::replace);
    // Fields in the order of the form: part from, minutes, cost, note.
    const auto scrolled = page.findChildren<QScrollArea*>();
    REQUIRE_FALSE(scrolled.empty());
    const auto fields = scrolled.front()->findChildren<QLineEdit*>();
    REQUIRE(fields.size() == 4);
    fields[1]->setText("many");
    CHECK_FALSE(page.record());
    CHECK(w.job() == before);
    fields[1]->setText("12,5");
    fields[2]->setText("-4");
    CHECK_FALSE(page.record());
    fields[2]->setText("1.20");
    fields[0]->setText("box 9");
    auto* origin = page.findChild<QComboBox*>("origin");
    REQUIRE(origin != nullptr);
    origin->setCurrentIndex(origin->findData("other_model"));
    REQUIRE(origin->currentIndex() > 0);
    REQUIRE(page.record());
    CHECK(w.job().acts.back().origin == "other_model");
    CHECK(origin->currentIndex() == 0);
    const auto* done = page.findChild<QTableView*>();
    REQUIRE(done != nullptr);
    CHECK(done->model()->index(0, ActsModel::OriginColumn).data().toString() ==
          "Used: from another model (box 9)");
    CHECK(w.job().acts.back().minutes == Approx(12.5));
    CHECK(w.job().acts.back().part_origin == "box 9");
    CHECK(w.job().bench.replaced == std::vector<std::string>{"sp2"});
    CHECK(w.job().stage == JobStage::repair);
    w.workbench.session.undoStack().undo();
    CHECK(w.job() == before);
}

TEST_CASE("a proof step is not decided on a bench that stands otherwise, nor waived without a reason",
          "[app][proof]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.window.go(MainWindow::ProofStation);
    ProofPage& page = find_page<ProofPage>(w.window);
    page.makePlan();
    REQUIRE(w.job().proof.size() > 4);
    const auto wiggle = std::find_if(w.job().proof.begin(), w.job().proof.end(),
                                     [](const ProofStep& step) { return step.kind == ReadingKind::wiggle; });
    const auto row = static_cast<int>(wiggle - w.job().proof.begin());
    page.table().selectRow(row);
    w.workbench.session.edit("battery", [](Job& job) { job.bench.battery_in = false; });
    page.decide(true);
    CHECK(w.job().proof[static_cast<std::size_t>(row)].state == ProofState::open);
    page.setBenchUp();
    page.decide(false);
    CHECK(w.job().proof[static_cast<std::size_t>(row)].state == ProofState::failed);
    page.table().selectRow(row);
    page.decide(true);
    CHECK(w.job().proof[static_cast<std::size_t>(row)].state == ProofState::passed);
    page.table().selectRow(row + 1);
    page.waive();
    CHECK(w.job().proof[static_cast<std::size_t>(row + 1)].state == ProofState::open);
    w.type("no second charger here");
    page.table().selectRow(row + 1);
    page.waive();
    CHECK(w.job().proof[static_cast<std::size_t>(row + 1)].state == ProofState::waived);
    CHECK(w.job().proof[static_cast<std::size_t>(row + 1)].reason == "no second charger here");
    // Making the list again keeps what is decided.
    page.makePlan();
    CHECK(w.job().proof[static_cast<std::size_t>(row)].state == ProofState::passed);
}

TEST_CASE("a meter that floods, lies and vanishes leaves the window alive", "[app]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.window.connectMeter("no such place");
    CHECK(w.workbench.feed.state() == MeterFeed::State::idle);
    w.press(Qt::Key_Space);
    CHECK(w.job().readings.size() == 5);
    w.window.connectMeter("127.0.0.1:1");
    REQUIRE(eventually([&] { return !w.workbench.feed.problem().isEmpty(); }));
    CHECK(w.workbench.feed.state() == MeterFeed::State::connecting);
    w.quick("p1 5.0 0.1");
    CHECK(w.job().readings.size() == 6);
}
