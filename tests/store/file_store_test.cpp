// SPDX-License-Identifier: GPL-3.0-or-later
// What is peculiar to the shop as one file: older, newer and damaged files, copies, sudden ends.
#include "store/file_store.h"

#include <QSqlQuery>
#include <QTemporaryDir>
#include <fstream>

#include "core/base/random.h"
#include "core/job/job_json.h"
#include "core/readings/reading_json.h"
#include "store/schema.h"
#include "tests/store/store_fixture.h"
#include "tests/support/killed_writer.h"

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

std::string bytes_of(const fs::path& file) {
    std::ifstream stream(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(stream), std::istreambuf_iterator<char>()};
}

}  // namespace

TEST_CASE("an older database is copied, then brought forward", "[store]") {
    const int version = GENERATE(1, 2);
    const Folder folder;
    {
        QSqlDatabase database = QSqlDatabase::addDatabase("QSQLITE", "older");
        database.setDatabaseName(QString::fromStdString(folder.file().string()));
        REQUIRE(database.open());
        REQUIRE(make_old_tables(database, version).ok());
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
    // What is new of this version is there for the old jobs too.
    CHECK(store->search("n-old", 10)->size() == 1);
    CHECK(store->counts()->at(WaitsFor::bench) == 1);
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
        const auto said = said_before_killed(EH_STORE_WRITER,
                                             {QString::fromStdString(folder.file().string())}, random, 400);
        promised.insert(promised.end(), said.begin(), said.end());
        if (promised.empty())
            continue;
        const auto job = opened(folder.file())->load("killed");
        if (!job)
            FAIL(job.error().text());
        for (const std::string& id : promised) {
            CAPTURE(round, id);
            REQUIRE(find_reading(*job, id) != nullptr);
        }
    }
    CHECK(promised.size() > 20);
}
