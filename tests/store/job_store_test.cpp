#include "store/job_store.h"

#include <signal.h>

#include <QElapsedTimer>
#include <QProcess>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <fstream>

#include "core/base/random.h"
#include "core/job/job_json.h"
#include "store/schema.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;
namespace fs = std::filesystem;

namespace {

struct Folder {
    QTemporaryDir directory;
    fs::path file() const { return fs::path(directory.path().toStdString()) / "shop.sqlite"; }
};

std::unique_ptr<JobStore> opened(const fs::path& file) {
    auto store = JobStore::open(file);
    if (!store)
        FAIL(store.error().text());
    return std::move(store).value();
}

Job sample_job(const std::string& id) {
    Job job;
    job.id = id;
    job.ticket.number = "N-" + id;
    job.ticket.topology = chained;
    job.ticket.customer = "Ämilie \"Ω\" O'Neil";
    job.readings = {meter_reading("r1", plugged("p1"), MeterPattern::steady, 5.02, 0.1834567890123456),
                    open_reading("r2", for_ohms(), "vbus1")};
    return job;
}

std::string bytes_of(const fs::path& file) {
    std::ifstream stream(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(stream), std::istreambuf_iterator<char>()};
}

}  // namespace

TEST_CASE("a job comes back from the store as it went in", "[store]") {
    const Folder folder;
    const Job job = sample_job("one");
    {
        auto store = opened(folder.file());
        REQUIRE(store->save(job).ok());
    }
    auto store = opened(folder.file());
    const auto back = store->load("one");
    REQUIRE(back.ok());
    CHECK(*back == job);
    const auto list = store->list();
    REQUIRE(list.ok());
    REQUIRE(list->size() == 1);
    CHECK(list->front().customer == job.ticket.customer);
}

TEST_CASE("readings that are taken back or changed are so in the store", "[store]") {
    const Folder folder;
    auto store = opened(folder.file());
    Job job = sample_job("one");
    REQUIRE(store->save(job).ok());
    job.readings[0].set_aside = true;
    job.readings.erase(job.readings.begin() + 1);
    job.readings.push_back(ohms_reading("r3", for_ohms(), "vbus2", 3.3));
    REQUIRE(store->save(job).ok());
    CHECK(*store->load("one") == job);
    REQUIRE(store->remove("one").ok());
    CHECK_FALSE(store->load("one").ok());
    CHECK(store->load("one").error().kind == ErrorKind::not_found);
}

TEST_CASE("two windows on one job: the conflict is said and no reading is lost", "[store]") {
    const Folder folder;
    auto first = opened(folder.file());
    auto second = opened(folder.file());
    REQUIRE(first->save(sample_job("one")).ok());
    Job mine = *first->load("one");
    Job theirs = *second->load("one");
    theirs.ticket.customer = "Theirs";
    theirs.readings.push_back(ohms_reading("r7", for_ohms(), "main", 5.0));
    REQUIRE(second->save(theirs).ok());
    mine.ticket.customer = "Mine";
    mine.readings.push_back(ohms_reading("r8", for_ohms(), "vin", 6.0));
    const auto saved = first->save(mine);
    REQUIRE_FALSE(saved.ok());
    CHECK_THAT(saved.error().message, Catch::Contains("another window"));
    const Job merged = *first->load("one");
    CHECK(merged.ticket.customer == "Theirs");
    CHECK(find_reading(merged, "r7") != nullptr);
    CHECK(find_reading(merged, "r8") != nullptr);
    CHECK(first->save(merged).ok());
}

TEST_CASE("an older database is copied, then brought forward", "[store]") {
    const Folder folder;
    {
        QSqlDatabase database = QSqlDatabase::addDatabase("QSQLITE", "older");
        database.setDatabaseName(QString::fromStdString(folder.file().string()));
        REQUIRE(database.open());
        REQUIRE(migrate_to(database, 1).ok());
        Job head = sample_job("old");
        head.readings.clear();
        QSqlQuery query(database);
        query.prepare(
            "INSERT INTO jobs (id, number, customer, machine, stage, created_ms, updated_ms, document) "
            "VALUES ('old', '', '', '', 'bench', 0, 0, ?)");
        query.addBindValue(QString::fromStdString(job_to_text(head)));
        REQUIRE(query.exec());
        query.prepare("INSERT INTO readings (job_id, id, position, document) VALUES ('old', 'r1', 0, ?)");
        query.addBindValue(QString::fromStdString(reading_to_text(sample_job("old").readings.front())));
        REQUIRE(query.exec());
        database.close();
    }
    QSqlDatabase::removeDatabase("older");
    auto store = opened(folder.file());
    const auto job = store->load("old");
    REQUIRE(job.ok());
    CHECK(job->readings.size() == 1);
    CHECK(job->readings.front() == sample_job("old").readings.front());
    REQUIRE(backups_of(folder.file()).size() == 1);
    // The copy is still of the old version, and opens in its turn.
    const fs::path copy = folder.file().parent_path() / "restored.sqlite";
    fs::copy_file(backups_of(folder.file()).front(), copy);
    CHECK(opened(copy)->load("old").ok());
}

TEST_CASE("a newer or damaged database is refused in words and not touched", "[store]") {
    const Folder folder;
    { REQUIRE(opened(folder.file())->save(sample_job("one")).ok()); }
    SECTION("newer") {
        {
            QSqlDatabase database = QSqlDatabase::addDatabase("QSQLITE", "newer");
            database.setDatabaseName(QString::fromStdString(folder.file().string()));
            REQUIRE(database.open());
            REQUIRE(run_sql(database, "PRAGMA user_version = 99", "marking").ok());
            REQUIRE(run_sql(database, "PRAGMA wal_checkpoint(TRUNCATE)", "writing out").ok());
            database.close();
        }
        QSqlDatabase::removeDatabase("newer");
        const std::string before = bytes_of(folder.file());
        const auto store = JobStore::open(folder.file());
        REQUIRE_FALSE(store.ok());
        CHECK(store.error().kind == ErrorKind::newer_version);
        CHECK_THAT(store.error().message, Catch::Contains("newer program"));
        CHECK(bytes_of(folder.file()) == before);
    }
    SECTION("not a database at all") {
        std::ofstream(folder.file(), std::ios::binary | std::ios::trunc) << "this is a shopping list";
        const auto store = JobStore::open(folder.file());
        REQUIRE_FALSE(store.ok());
        CHECK_THAT(store.error().message, Catch::Contains("damaged"));
        CHECK(bytes_of(folder.file()) == "this is a shopping list");
    }
    SECTION("pages overwritten") {
        std::string bytes = bytes_of(folder.file());
        for (std::size_t i = 4096; i < bytes.size(); ++i)
            bytes[i] = static_cast<char>(i * 7);
        std::ofstream(folder.file(), std::ios::binary | std::ios::trunc) << bytes;
        const auto store = JobStore::open(folder.file());
        REQUIRE_FALSE(store.ok());
        CHECK_THAT(store.error().message, Catch::Contains("damaged"));
        CHECK(bytes_of(folder.file()) == bytes);
    }
}

TEST_CASE("the last copy takes the place of a damaged file, which is kept", "[store]") {
    const Folder folder;
    const fs::path copy = folder.file().string() + ".copy-20260101-000000-000";
    {
        auto store = opened(folder.file());
        REQUIRE(store->save(sample_job("one")).ok());
        REQUIRE(store->backup_to(copy).ok());
    }
    std::ofstream(folder.file(), std::ios::binary | std::ios::trunc) << "rubbish";
    REQUIRE_FALSE(JobStore::open(folder.file()).ok());
    REQUIRE(backups_of(folder.file()).front() == copy);
    REQUIRE(restore_backup(copy, folder.file()).ok());
    CHECK(*opened(folder.file())->load("one") == sample_job("one"));
    bool kept = false;
    for (const auto& entry : fs::directory_iterator(folder.file().parent_path()))
        kept = kept || bytes_of(entry.path()) == "rubbish";
    CHECK(kept);
}

TEST_CASE("a killed process loses no reading that it had said was saved", "[store][slow]") {
    const Folder folder;
    Random random(20260101);
    std::vector<std::string> promised;
    for (int round = 0; round < 20; ++round) {
        QProcess writer;
        writer.start(EH_STORE_WRITER, {QString::fromStdString(folder.file().string())});
        REQUIRE(writer.waitForStarted());
        // At a random moment, some of them before the first save.
        QByteArray said;
        const int patience_ms = random.below(400);
        QElapsedTimer clock;
        clock.start();
        while (clock.elapsed() < patience_ms) {
            writer.waitForReadyRead(5);
            said += writer.readAllStandardOutput();
        }
        ::kill(static_cast<pid_t>(writer.processId()), SIGKILL);
        writer.waitForFinished();
        said += writer.readAllStandardOutput();
        const QByteArrayList lines = said.split('\n');
        // The last piece has no end of line, so it was not said in full.
        for (qsizetype i = 0; i + 1 < lines.size(); ++i)
            promised.push_back(lines[i].toStdString());
        if (promised.empty())
            continue;
        const auto job = opened(folder.file())->load("killed");
        REQUIRE(job.ok());
        for (const std::string& id : promised) {
            CAPTURE(round, id);
            REQUIRE(find_reading(*job, id) != nullptr);
        }
    }
    CHECK(promised.size() > 20);
}
