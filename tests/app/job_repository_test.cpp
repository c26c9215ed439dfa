// SPDX-License-Identifier: GPL-3.0-or-later
// The shop behind the window: nothing waits for a disk, nothing that was entered is lost on the way.
#include "app/services/job_repository.h"

#include <QElapsedTimer>
#include <QSignalSpy>
#include <QSqlDatabase>

#include "app/shop_menu.h"
#include "core/job/job_merge.h"
#include "store/file_store.h"
#include "tests/app/app_fixture.h"
#include "tests/store/store_fixture.h"
#include "tests/support/killed_writer.h"

using namespace eh;
using namespace eh::test;
namespace fs = std::filesystem;

namespace {

struct Shop {
    QTemporaryDir folder;
    JobRepository repository;

    explicit Shop(const QString& name = "shop.sqlite") { REQUIRE(open(name).ok()); }
    [[nodiscard]] fs::path file(const QString& name) const { return folder.filePath(name).toStdString(); }
    Outcome open(const QString& name) { return shop_opened(repository, file(name), {}); }
    void settle() {
        REQUIRE(eventually([&] { return repository.idle(); }));
    }
    // Another window makes the job one of "Theirs".
    void other_side_changes(const std::string& id) const {
        auto other = JobStore::open(file("shop.sqlite"));
        REQUIRE(other.ok());
        Job theirs = *(*other)->load(id);
        theirs.ticket.customer = "Theirs";
        REQUIRE((*other)->save(theirs).ok());
    }
    // As another window finds it on disk.
    [[nodiscard]] Job on_disk(const std::string& id, const QString& name = "shop.sqlite") const {
        const auto store = JobStore::open(file(name));
        REQUIRE(store.ok());
        const auto job = (*store)->load(id);
        REQUIRE(job.ok());
        return *job;
    }
};

using Pace = JobRepository::Pace;

}  // namespace

TEST_CASE("a question sees everything that was entered before it was asked", "[app][repository]") {
    Shop shop;
    Job job = sample_job("one");
    for (const Pace pace : {Pace::at_once, Pace::when_fingers_rest}) {
        job.ticket.customer += "x";
        shop.repository.keep(job, pace);
        CHECK(shop.repository.waiting("one") != nullptr);
        Asking asking;
        std::string seen;
        shop.repository.ask<std::string>(
            asking, [](JobStore& store) { return store.load("one")->ticket.customer; },
            [&](const std::string& customer) { seen = customer; });
        CHECK(asking.open());
        REQUIRE(eventually([&] { return !asking.open(); }));
        CHECK(seen == job.ticket.customer);
        CHECK(shop.repository.waiting("one") == nullptr);
    }
}

TEST_CASE("typing is written a few times a second, however fast the fingers are", "[app][repository]") {
    Shop shop;
    Job job = sample_job("one");
    QElapsedTimer clock;
    clock.start();
    int keystrokes = 0;
    while (clock.elapsed() < 1200) {
        job.ticket.customer = "customer " + std::to_string(++keystrokes);
        shop.repository.keep(job, Pace::when_fingers_rest);
        QTest::qWait(5);
    }
    REQUIRE(eventually([&] { return shop.repository.idle(); }));
    const auto most = clock.elapsed() / 400 + 1;
    CHECK(shop.on_disk("one") == job);
    // Each save counts the job's revision up by one.
    int saves = 0;
    {
        QSqlDatabase database = QSqlDatabase::addDatabase("QSQLITE", "counting saves");
        database.setDatabaseName(QString::fromStdString(shop.file("shop.sqlite").string()));
        REQUIRE(database.open());
        QSqlQuery revision(database);
        REQUIRE(revision.exec("SELECT revision FROM jobs WHERE id = 'one'"));
        REQUIRE(revision.next());
        saves = revision.value(0).toInt();
    }
    QSqlDatabase::removeDatabase("counting saves");
    CHECK(keystrokes > 20);
    CHECK(saves >= 2);
    CHECK(saves <= most);
}

TEST_CASE("only the question that was asked last is answered, and none whose asker has gone",
          "[app][repository]") {
    Shop shop;
    std::vector<int> answers;
    const auto ask = [&](Asking& asking, int number) {
        shop.repository.ask<int>(
            asking, [number](JobStore&) { return number; }, [&](int answer) { answers.push_back(answer); });
    };
    Asking lasting;
    {
        Asking passing;
        ask(passing, 1);
        ask(lasting, 2);
        ask(lasting, 3);
    }
    shop.settle();
    CHECK(answers == std::vector<int>{3});
    ask(lasting, 4);
    lasting.drop();
    CHECK_FALSE(lasting.open());
    shop.settle();
    CHECK(answers == std::vector<int>{3});
}

TEST_CASE(
    "a shop that cannot be opened leaves the one that is open, another takes what is entered from then on",
    "[app][repository]") {
    Shop shop;
    QStringList told;
    QObject::connect(&shop.repository, &JobRepository::shopGoes, [&] { told << "goes"; });
    QObject::connect(&shop.repository, &JobRepository::shopChanged, [&] { told << "changed"; });
    std::ofstream(shop.file("rubbish.sqlite")) << "rubbish";
    CHECK_FALSE(shop.open("rubbish.sqlite").ok());
    CHECK(told.isEmpty());
    CHECK(shop.repository.shop().file == shop.file("shop.sqlite"));
    shop.repository.keep(sample_job("first"), Pace::when_fingers_rest);
    REQUIRE(shop.open("second.sqlite").ok());
    CHECK(told == QStringList{"goes", "changed"});
    shop.repository.keep(sample_job("second"));
    shop.settle();
    CHECK(shop.on_disk("first") == sample_job("first"));
    CHECK(shop.on_disk("second", "second.sqlite") == sample_job("second"));
    CHECK_FALSE((*JobStore::open(shop.file("second.sqlite")))->load("first").ok());
}

TEST_CASE("a shop whose file is to be replaced is closed first, and gone where nothing takes its place",
          "[app][repository]") {
    Shop shop;
    std::optional<Outcome> opened;
    shop.repository.open([]() -> Result<std::unique_ptr<JobStore>> { return refused("no"); },
                         [&](const Outcome& outcome) { opened = outcome; },
                         JobRepository::Former::closed_first);
    REQUIRE(eventually([&] { return opened.has_value(); }));
    CHECK_FALSE(opened->ok());
    CHECK_FALSE(shop.repository.hasShop());
    // Without a shop nothing is kept, nothing answered, and nothing waits.
    shop.repository.keep(sample_job("one"));
    Asking asking;
    shop.repository.ask<int>(
        asking, [](JobStore&) { return 1; }, [](int) { CHECK(false); });
    shop.settle();
    CHECK_FALSE(asking.open());
    CHECK(shop.repository.waiting().empty());
}

TEST_CASE("what is entered while another side's change is on its way is written with it, not over it",
          "[app][repository]") {
    Shop shop;
    Job job = sample_job("one");
    shop.repository.keep(job);
    shop.settle();
    shop.other_side_changes("one");
    Asking asking;
    std::optional<Job> told;
    shop.repository.catchUp(asking, job.id, [&](const Result<Job>& now) {
        REQUIRE(now.ok());
        const Job* ours = shop.repository.waiting("one");
        REQUIRE(ours != nullptr);
        told = with_readings_of(*now, *ours);
        shop.repository.keep(*told);
    });
    // Until the answer has been dealt with; by then the store's own thread has long read it.
    QThread::msleep(100);
    job.readings.push_back(ohms_reading("mine", for_ohms(), "main", 5.0));
    shop.repository.keep(job);
    QThread::msleep(100);
    shop.settle();
    REQUIRE(told.has_value());
    const Job stored = shop.on_disk("one");
    CHECK(stored.ticket.customer == "Theirs");
    CHECK(find_reading(stored, "mine") != nullptr);
    // Nothing new: nothing is answered.
    told.reset();
    shop.repository.catchUp(asking, job.id, [&](const Result<Job>& now) { told = *now; });
    shop.settle();
    CHECK_FALSE(told.has_value());
}

TEST_CASE("a change that is on its way is not lost to another look for changes", "[app][repository]") {
    Shop shop;
    shop.repository.keep(sample_job("one"));
    shop.settle();
    shop.other_side_changes("one");
    Asking asking;
    std::vector<std::string> told;
    const auto look = [&] {
        return shop.repository.catchUp(asking, JobId::made("one"), [&](const Result<Job>& now) {
            told.push_back(now.ok() ? now->ticket.customer : now.error().text());
        });
    };
    CHECK(look());
    QThread::msleep(100);  // by now the store's own thread has given the change away
    CHECK_FALSE(look());
    shop.settle();
    CHECK(told == std::vector<std::string>{"Theirs"});
    CHECK(look());
    shop.settle();
    CHECK(told.size() == 1);
}

TEST_CASE(
    "a job that is not open is changed whatever is asked next, and looked at without being taken for seen",
    "[app][repository]") {
    Shop shop;
    for (const char* id : {"one", "two"})
        shop.repository.keep(sample_job(id));
    QObject listener;
    int told = 0;
    for (const char* id : {"one", "two", "none"}) {
        shop.repository.change(
            id, [](Job& job) { job.waiting.note = "changed"; }, &listener,
            [&, id](const Result<Job>& job) {
                ++told;
                CHECK(job.ok() == (std::string(id) != "none"));
            });
    }
    shop.settle();
    CHECK(told == 3);
    CHECK(shop.on_disk("one").waiting.note == "changed");
    CHECK(shop.on_disk("two").waiting.note == "changed");
    // Another side changes it, a page peeks at it: the open job here is still one that was changed elsewhere.
    shop.other_side_changes("one");
    Asking asking;
    std::string seen;
    shop.repository.ask<std::string>(
        asking, [](JobStore& store) { return store.peek("one")->ticket.customer; },
        [&](const std::string& customer) { seen = customer; });
    shop.settle();
    CHECK(seen == "Theirs");
    bool caught_up = false;
    shop.repository.catchUp(asking, JobId::made("one"), [&](const Result<Job>&) { caught_up = true; });
    shop.settle();
    CHECK(caught_up);
}

TEST_CASE("a repository that goes writes what was still waiting", "[app][repository]") {
    const QTemporaryDir folder;
    const fs::path file = folder.filePath("shop.sqlite").toStdString();
    {
        JobRepository repository;
        REQUIRE(shop_opened(repository, file, {}).ok());
        for (int n = 0; n < 20; ++n)
            repository.keep(sample_job("job" + std::to_string(n)), Pace::when_fingers_rest);
    }
    CHECK((*JobStore::open(file))->list()->size() == 20);
}

TEST_CASE("a killed process loses no reading that its repository had said was on disk",
          "[app][repository][slow]") {
    const QTemporaryDir folder;
    const QString file = folder.filePath("shop.sqlite");
    Random random(20261130);
    std::vector<std::string> promised;
    for (int round = 0; round < 15; ++round) {
        const auto said = said_before_killed(EH_REPOSITORY_WRITER, {file}, random, 500);
        promised.insert(promised.end(), said.begin(), said.end());
        if (promised.empty())
            continue;
        const auto store = JobStore::open(file.toStdString());
        REQUIRE(store.ok());
        const auto job = (*store)->load("killed");
        REQUIRE(job.ok());
        for (const std::string& id : promised) {
            CAPTURE(round, id);
            REQUIRE(find_reading(*job, id) != nullptr);
        }
    }
    CHECK(promised.size() > 20);
}

namespace {

// The longest time in which the window's thread did not come round.
class Heartbeat {
  public:
    Heartbeat() {
        clock_.start();
        timer_.setInterval(2);
        QObject::connect(&timer_, &QTimer::timeout,
                         [this] { longest_ms_ = std::max(longest_ms_, clock_.restart()); });
        timer_.start();
    }
    [[nodiscard]] qint64 longest_ms() const { return longest_ms_; }

  private:
    QElapsedTimer clock_;
    QTimer timer_;
    qint64 longest_ms_ = 0;
};

// Whatever a test finds, the server runs on afterwards.
struct Thawed {
    ~Thawed() { PostgresCluster::shared().thaw(); }
};

}  // namespace

TEST_CASE("a server that stands still stops neither the window nor its closing, and nothing is lost",
          "[app][repository][server][frozen]") {
    const ServerAddress address = PostgresCluster::shared().fresh_database("frozen_window");
    Window w;
    const fs::path beside = w.folder.path().toStdString();
    REQUIRE(w.told([&](auto done) {
                 find_page<ShopMenu>(w.window).useServer(QString::fromStdString(address.text()), beside,
                                                         done);
             }).ok());
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    w.wait_for_store();
    const std::size_t before = w.job().readings.size();
    {
        const Thawed at_the_end;
        PostgresCluster::shared().freeze();
        const Heartbeat heart;
        const auto work = [&](int ms) {
            QElapsedTimer clock;
            clock.start();
            int n = 0;
            while (clock.elapsed() < ms) {
                w.workbench.session.edit(
                    "typed", [&](Job& job) { job.ticket.customer = "Typed " + std::to_string(++n); },
                    "customer");
                QTest::qWait(20);
            }
        };
        work(500);
        w.workbench.session.addReading(ohms_reading("", for_ohms(), "vin", 7.0));
        w.window.openJob(w.job().id);
        work(2500);
        w.window.go(MainWindow::ShelfStation);
        QTest::qWait(100);
        // A statement on the window's thread would take 17 s, or for ever; a busy machine alone some tenths.
        CAPTURE(heart.longest_ms());
        CHECK(heart.longest_ms() < 1500);
        CHECK_FALSE(w.workbench.repository.unsaved().isEmpty());
        // Closing asks nothing: what the server would have got is kept on this bench.
        w.window.setAskUnsaved([](const QString&) {
            CHECK(false);
            return UnsavedChoice::lose;
        });
        CHECK(w.window.close());
    }
    auto bench = ServerStore::open_server(address, beside / "unsent.sqlite");
    REQUIRE(bench.ok());
    const auto job = (*bench)->load("example-1");
    REQUIRE(job.ok());
    CHECK(job->readings.size() == before + 1);
    CHECK_THAT(job->ticket.customer, Catch::StartsWith("Typed"));
    Preferences().setShopServer({});
}
