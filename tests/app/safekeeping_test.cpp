// SPDX-License-Identifier: GPL-3.0-or-later
// No entry is lost and nothing of others is touched: full disk, older files, hostile ids and texts, undo.
#include <QFileInfo>
#include <QImage>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QToolTip>
#include <filesystem>
#include <fstream>

#include "app/guarded_application.h"
#include "app/screens/board/board_page.h"
#include "app/screens/intake/intake_page.h"
#include "app/screens/rework/rework_page.h"
#include "app/screens/rework/steps_panel.h"
#include "app/shop_file.h"
#include "app/shop_menu.h"
#include "app/widgets/form_parts.h"
#include "core/base/files.h"
#include "core/board/board_json.h"
#include "core/job/job_json.h"
#include "store/file_store.h"
#include "tests/app/app_fixture.h"
#include "tests/support/disk_limit.h"

using namespace eh;
using namespace eh::test;
namespace fs = std::filesystem;

namespace {

const char* const example = EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json";

// Stands in for the store of a disk that is full as long as `full`.
void fill_disk(Window& w, bool full) {
    REQUIRE(w.on_store([full](JobStore& store) {
        auto* file = dynamic_cast<FileStore*>(&store);
        if (file != nullptr)
            file->limit_pages(full ? 1 : 1 << 20);
        return file != nullptr;
    }));
}

QLabel& unsaved_label(Window& w) {
    auto* label = w.window.findChild<QLabel*>("unsaved");
    REQUIRE(label != nullptr);
    return *label;
}

// Readings with long notes, until the pages that are there are used up.
void add_readings_until_unsaved(Window& w) {
    for (int n = 0; n < 200 && w.workbench.repository.unsaved().isEmpty(); ++n) {
        Reading reading = ohms_reading("", for_ohms(), "main", 1.0 + n);
        for (int i = 0; i < 400; ++i)
            reading.note += std::to_string(n * 1000003 + i * 7919) + " ";
        w.workbench.session.addReading(reading);
        w.wait_for_store();
    }
    REQUIRE_FALSE(w.workbench.repository.unsaved().isEmpty());
}

}  // namespace

TEST_CASE("what a full disk does not take stays on the screen, is tried again and asked about at closing",
          "[app][keep]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    const auto id = w.job().id;
    fill_disk(w, true);
    add_readings_until_unsaved(w);
    const std::size_t readings = w.job().readings.size();
    CHECK(unsaved_label(w).isVisible());
    w.window.say("Taken");
    CHECK(unsaved_label(w).isVisible());
    CHECK_THAT(unsaved_label(w).text().toStdString(), Catch::Contains("Not on disk"));
    // Another job may be opened; this one is kept, and comes back as it was left.
    w.window.newTicket();
    w.open_job(id);
    CHECK(w.job().readings.size() == readings);
    int asked = 0;
    auto answer = UnsavedChoice::stay;
    w.window.setAskUnsaved([&](const QString& what) {
        ++asked;
        CHECK_THAT(what.toStdString(), Catch::Contains("job"));
        return answer;
    });
    CHECK_FALSE(w.window.close());
    CHECK(asked == 1);
    CHECK(w.window.isVisible());
    // Nothing is imported over it meanwhile.
    CHECK_FALSE(w.import_job(example).ok());
    // Room again: the next try brings it to disk, and closing asks nothing.
    fill_disk(w, false);
    w.workbench.repository.saveAgain([](bool all) { CHECK(all); });
    w.wait_for_store();
    CHECK_FALSE(unsaved_label(w).isVisible());
    CHECK(w.stored(id).readings.size() == readings);
    CHECK(w.window.close());
    CHECK(asked == 1);
}

TEST_CASE("a full disk and the shop's lists: nothing counts as saved before it is", "[app][keep]") {
    Window w;
    const auto add = [&] {
        w.workbench.shop_parts.editStock("x", [](Stock& stock) {
            stock.parts.emplace_back();
            stock.parts.back().id = "s" + std::to_string(stock.parts.size());
            stock.parts.back().note = std::string(20000, 'x');
        });
    };
    {
        const FilesEndAt limit(8000);
        add();
        w.workbench.shop_parts.flush();
        CHECK(w.workbench.shop_parts.unsaved() == QStringList{"stock.json"});
        CHECK(unsaved_label(w).isVisible());
    }
    w.workbench.shop_parts.flush();
    CHECK(w.workbench.shop_parts.unsaved().isEmpty());
    CHECK_FALSE(unsaved_label(w).isVisible());
    CHECK(QFileInfo(w.folder.filePath("shop.sqlite.parts/stock.json")).size() > 20000);
}

TEST_CASE("a shop file that is locked or only readable is never replaced by a copy", "[app][start][keep]") {
    const QTemporaryDir folder;
    const fs::path file = folder.filePath("shop.sqlite").toStdString();
    {
        auto store = JobStore::open(file);
        REQUIRE(store.ok());
        REQUIRE((*store)->backup_to(file.string() + ".copy-20260101-000000-000").ok());
    }
    QSqlDatabase other = QSqlDatabase::addDatabase("QSQLITE", "holder of the shop");
    other.setDatabaseName(QString::fromStdString(file.string()));
    REQUIRE(other.open());
    REQUIRE(QSqlQuery(other).exec("BEGIN EXCLUSIVE"));
    int waited = 0;
    bool offered = false;
    const auto offer = [&](const Error& why, const fs::path& copy) {
        CHECK(why.kind == ErrorKind::locked);
        offered = offered || !copy.empty();
        return true;
    };
    JobRepository repository;
    SECTION("given up") {
        const auto opened = shop_opened(repository, file, offer, [&](const Error&) { return ++waited < 2; });
        CHECK_FALSE(opened.ok());
        CHECK(waited == 2);
    }
    SECTION("waited for") {
        const auto opened = shop_opened(repository, file, offer, [&](const Error& why) {
            CHECK_THAT(why.message, Catch::Contains("locked"));
            ++waited;
            QSqlQuery(other).exec("ROLLBACK");
            return true;
        });
        CHECK(opened.ok());
        CHECK(waited == 1);
    }
    CHECK_FALSE(offered);
    QSqlQuery(other).exec("ROLLBACK");
    other.close();
    other = {};
    QSqlDatabase::removeDatabase("holder of the shop");
    for (const auto& entry : fs::directory_iterator(folder.path().toStdString()))
        CHECK(entry.path().string().find("damaged") == std::string::npos);
}

TEST_CASE("an older job file over a newer job: said, chosen, and no reading of either is lost",
          "[app][keep]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    const JobId id = w.job().id;
    const std::size_t in_file = w.job().readings.size();
    w.workbench.session.addReading(ohms_reading("", for_ohms(), "main", 0.5));
    w.workbench.session.edit("customer", [](Job& job) { job.ticket.customer = "Kept"; });
    std::vector<std::string> told;
    auto answer = ImportChoice::keep;
    w.workbench.import.setAsk([&](const Job&, const std::vector<std::string>& differences) {
        told = differences;
        return answer;
    });
    SECTION("keep") {
        REQUIRE(w.import_job(example).ok());
        CHECK_FALSE(told.empty());
        CHECK(w.job().ticket.customer == "Kept");
        CHECK(w.job().readings.size() == in_file + 1);
    }
    SECTION("take") {
        answer = ImportChoice::take;
        REQUIRE(w.import_job(example).ok());
        CHECK(w.job().ticket.customer != "Kept");
        CHECK(w.job().readings.size() == in_file + 1);
        CHECK(w.stored(id).readings.size() == in_file + 1);
    }
    SECTION("copy") {
        answer = ImportChoice::copy;
        REQUIRE(w.import_job(example).ok());
        CHECK(w.job().id != id);
        CHECK(w.job().readings.size() == in_file);
        CHECK(w.stored(id).ticket.customer == "Kept");
    }
    SECTION("cancel") {
        answer = ImportChoice::cancel;
        REQUIRE(w.import_job(example).ok());
        CHECK(w.stored(id).ticket.customer == "Kept");
    }
    SECTION("the same file twice asks nothing") {
        const QString file = w.folder.filePath("same.hound.json");
        std::ofstream(file.toStdString()) << job_to_text(w.job());
        REQUIRE(w.import_job(file).ok());
        CHECK(told.empty());
    }
}

TEST_CASE("a job file whose id is a path deletes and writes nothing outside the shop",
          "[app][keep][hostile]") {
    Window w;
    const QString precious = w.folder.filePath("precious");
    REQUIRE(QDir().mkpath(precious));
    nlohmann::json file{{"format", "eager-hound.job/1"},
                        {"id", "../precious"},
                        {"ticket", {{"topology", chained}, {"customer", "X"}}}};
    const QString path = w.folder.filePath("hostile.hound.json");
    std::ofstream(path.toStdString()) << file.dump();
    const auto imported = w.import_job(path);
    REQUIRE_FALSE(imported.ok());
    CHECK_THAT(imported.error().text(), Catch::Contains("id"));
    CHECK_FALSE(w.told([&](auto done) { find_page<ShopMenu>(w.window).forgetCustomer(done); }).ok());
    CHECK(QFileInfo(precious).isDir());
}

TEST_CASE("two pictures dropped at once are two pictures", "[app][keep]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    w.window.go(MainWindow::ReworkStation);
    StepsPanel& steps = find_page<ReworkPage>(w.window).steps();
    for (const char* name : {"red.png", "blue.png"}) {
        QImage image(64, 64, QImage::Format_RGB32);
        image.fill(name[0] == 'r' ? Qt::red : Qt::blue);
        REQUIRE(image.save(w.folder.filePath(name)));
        steps.attach(w.folder.filePath(name));
    }
    REQUIRE(eventually([&] { return w.job().rework.photos.size() == 2; }, 20000));
    const auto& photos = w.job().rework.photos;
    CHECK(photos[0].id != photos[1].id);
    const auto colour = [&](const StepPhoto& photo) {
        return QImage(w.folder.filePath("shop.sqlite.photos/") + QString::fromStdString(w.job().id) + "/" +
                      QString::fromStdString(photo.file))
            .pixelColor(32, 32);
    };
    CHECK(std::abs(colour(photos[0]).red() - colour(photos[1]).red()) > 200);
}

TEST_CASE("HTML in what comes from outside is shown as it stands", "[app][keep][plain]") {
    Window w;
    const QString html = "<img src='/dev/zero'><b>fat</b>";
    SECTION("a label of any kind, and a tooltip") {
        QLabel label(html);
        label.show();
        CHECK(label.textFormat() == Qt::PlainText);
        QToolTip::showText(QPoint(10, 10), html);
        int tips = 0;
        for (QWidget* top : QApplication::topLevelWidgets()) {
            const auto* tip = qobject_cast<QLabel*>(top);
            if (tip == nullptr || tip == &label || tip->text() != html)
                continue;
            ++tips;
            CHECK(tip->textFormat() == Qt::PlainText);
        }
        CHECK(tips == 1);
        QToolTip::hideText();
        form::show_html(&label, form::paragraphs({html}));
        CHECK_FALSE(label.text().contains("<img"));
    }
    SECTION("a job made of it, on every page") {
        REQUIRE(w.import_job(example).ok());
        w.workbench.session.edit("hostile", [&](Job& job) {
            const std::string text = html.toStdString();
            job.ticket.number = job.ticket.customer = job.ticket.machine = job.ticket.claim = text;
            job.findings.push_back({"f1", text, 1});
            for (Reading& reading : job.readings)
                reading.note = reading.source = text;
        });
        for (int station = 0; station < MainWindow::StationCount; ++station) {
            w.window.go(static_cast<MainWindow::Station>(station));
            QCoreApplication::processEvents();
        }
        for (const QLabel* label : w.window.findChildren<QLabel*>()) {
            CAPTURE(label->text().toStdString());
            if (label->isVisibleTo(&w.window))
                CHECK(label->textFormat() != Qt::AutoText);
            if (label->textFormat() == Qt::RichText)
                CHECK_FALSE(label->text().contains("<img src='/dev"));
        }
    }
}

TEST_CASE("a footprint that is typed letter by letter is never the end", "[app][keep]") {
    const std::string whole =
        "usb-c, mine\nshell 8.94 7.35 out 0.6 high 1.63\nA1 3.35 6.9 0.6 1.1\nS1 1 2 3 4 leg\n";
    for (std::size_t length = 0; length <= whole.size(); ++length)
        (void)parse_measured_footprint(whole.substr(0, length));
    CHECK_FALSE(parse_measured_footprint("usb-c,").ok());
    CHECK_FALSE(parse_measured_footprint("usb-c, ,,  ").ok());
}

TEST_CASE("a new ticket shows nothing of the job before, whatever was still being worked out",
          "[app][keep]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    SECTION("the answer was there") {
        w.settle();
    }
    SECTION("it was on its way") {}
    w.window.newTicket();
    CHECK(w.workbench.diagnosis.answer().engine == nullptr);
    // What is answered from now on is of this job, which has no readings.
    QTest::qWait(500);
    CHECK(w.workbench.diagnosis.answer().readings.empty());
}

TEST_CASE("work that is logged is asked about anew", "[app][keep]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    w.settle();
    w.workbench.session.edit("reflow", [](Job& job) {
        Act act;
        act.id = "a1";
        act.kind = Work::reflow;
        act.block = "sp2";
        job.acts.push_back(act);
    });
    CHECK(w.workbench.diagnosis.busy());
    w.settle();
}

TEST_CASE("an exception that leaves a slot is reported, and the program goes on", "[app][keep]") {
    QString told;
    const auto report = [&](const QString& what) { told = what; };
    CHECK(GuardedApplication::guarded([] { return true; }, report));
    CHECK(told.isEmpty());
    CHECK_FALSE(GuardedApplication::guarded([]() -> bool { return std::string().at(1) == 'x'; }, report));
    CHECK_FALSE(told.isEmpty());
    told.clear();
    CHECK_FALSE(GuardedApplication::guarded([]() -> bool { throw 7; }, report));
    CHECK(told == "unknown");
}

TEST_CASE(
    "whatever throws on the window's thread or beside it reaches the last handler, and the program goes on",
    "[app][keep]") {
    const QTemporaryDir folder;
    QProcess program;
    program.start(EH_THROWING_SLOTS, {folder.filePath("shop.sqlite")});
    REQUIRE(program.waitForFinished(60000));
    const QString told = QString::fromUtf8(program.readAllStandardOutput());
    CAPTURE(told.toStdString(), program.readAllStandardError().toStdString());
    CHECK(program.exitStatus() == QProcess::NormalExit);
    CHECK(program.exitCode() == 0);
    for (const char* kind : {"click", "timer", "queued", "paint", "model", "task", "question"})
        CHECK(told.contains(kind));
}

TEST_CASE("a window that closes waits for what still looks at its board", "[app][keep]") {
    bool told = false;
    bool map_was_there = false;
    {
        Window w;
        BoardBench& bench = find_page<BoardPage>(w.window).bench();
        auto board = read_board(EH_SOURCE_DIR "/data/boards/demo-board.json");
        REQUIRE(board.ok());
        bench.open(std::move(board).value());
        QObject::connect(&bench, &BoardBench::boardGoes, [&] {
            told = true;
            map_was_there = bench.map() != nullptr;
        });
    }
    CHECK(told);
    CHECK(map_was_there);
}

TEST_CASE("the window closes while a job of thousands of readings is reasoned over", "[app][keep]") {
    auto w = std::make_unique<Window>();
    Job job = *parse_job(*read_text_file(example), "example");
    job.id = JobId::made("huge");
    for (int n = 0; job.readings.size() < 4900; ++n) {
        BenchConfiguration bench = plugged("p1");
        bench.case_open = n % 2 == 0;
        job.readings.push_back(
            meter_reading("more" + std::to_string(n), bench, MeterPattern::steady, 5.0 + 0.0001 * n, 0.01));
    }
    const QString file = w->folder.filePath("huge.hound.json");
    REQUIRE(write_text_file(file.toStdString(), job_to_text(job)).ok());
    REQUIRE(w->import_job(file).ok());
    REQUIRE(eventually([&] { return w->workbench.diagnosis.busy(); }));
    // Left to itself the reasoning goes on for minutes; the test would run into ctest's limit.
    w.reset();
    SUCCEED("closed");
}
