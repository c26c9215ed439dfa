// SPDX-License-Identifier: GPL-3.0-or-later
// Disks that are full, folders that may only be read, files that others hold, copies written in part: made to
// happen.
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QSqlDatabase>
#include <QSqlQuery>
#include <fstream>
#include <iterator>

#include "tests/store/store_fixture.h"

using namespace eh;
using namespace eh::test;
namespace fs = std::filesystem;

namespace {

// Runs in a child process that is nobody of weight, since rights do not hold root back. 0: it went as wanted.
int as_unprivileged(const std::function<int()>& act) {
    const pid_t child = fork();
    if (child == 0) {
        constexpr uid_t nobody = 65534;
        if (geteuid() == 0 && (setgid(nobody) != 0 || setuid(nobody) != 0))
            _exit(99);
        _exit(act());
    }
    int state = 0;
    waitpid(child, &state, 0);
    return WIFEXITED(state) ? WEXITSTATUS(state) : -1;
}

}  // namespace

TEST_CASE("a full disk: the save is refused in words, and what was saved before stays", "[store][trouble]") {
    ShopOnDisk shop;
    Job job = sample_job("one");
    {
        auto store = FileStore::open_file(shop.file());
        REQUIRE(store.ok());
        REQUIRE((*store)->save(job).ok());
        (*store)->limit_pages(1);  // no more than it has
        Job larger = job;
        for (int n = 0; n < 2000; ++n) {
            larger.readings.push_back(
                ohms_reading("x" + std::to_string(n), for_ohms(), "main", n * 1.234567));
            larger.readings.back().note = "note " + std::to_string(n * 7919);
        }
        const auto saved = (*store)->save(larger);
        REQUIRE_FALSE(saved.ok());
        CHECK_THAT(saved.error().message, Catch::Contains("full"));
        CHECK(*(*store)->load("one") == job);
        // With room again the same save goes through.
        (*store)->limit_pages(1 << 20);
        CHECK((*store)->save(larger).ok());
        job = larger;
    }
    CHECK(*shop.window()->load("one") == job);
}

TEST_CASE("a folder that may only be read is refused in words", "[store][trouble]") {
    ShopOnDisk shop;
    { REQUIRE(shop.window()->save(sample_job("one")).ok()); }
    const fs::path folder = shop.path("");
    const int outcome = as_unprivileged([&] {
        const auto store = FileStore::open_file(shop.file());
        if (store.ok())
            return 1;
        const std::string why = store.error().text();
        return why.find("rights") != std::string::npos || why.find("read-only") != std::string::npos ? 0 : 2;
    });
    // The temporary folder is its owner's alone: not even to be entered.
    CHECK(outcome == 0);
    chmod(folder.c_str(), 0755);
    chmod(shop.file().c_str(), 0644);
    const auto try_again = [&] {
        const auto store = FileStore::open_file(shop.file());
        if (store.ok())
            return 1;
        const std::string why = store.error().text();
        return why.find("rights") != std::string::npos || why.find("read-only") != std::string::npos ? 0 : 2;
    };
    if (geteuid() != 0)
        chmod(folder.c_str(), 0555);
    CHECK(as_unprivileged(try_again) == 0);
    chmod(folder.c_str(), 0755);
    CHECK(shop.window()->load("one").ok());
}

TEST_CASE("a shop file that another program holds locked is said to be so", "[store][trouble]") {
    ShopOnDisk shop;
    auto store = FileStore::open_file(shop.file());
    REQUIRE(store.ok());
    REQUIRE((*store)->save(sample_job("one")).ok());
    {
        QSqlDatabase other = QSqlDatabase::addDatabase("QSQLITE", "holder");
        other.setDatabaseName(QString::fromStdString(shop.file().string()));
        REQUIRE(other.open());
        REQUIRE(QSqlQuery(other).exec("BEGIN IMMEDIATE"));
        const auto saved = (*store)->save(sample_job("two"));
        REQUIRE_FALSE(saved.ok());
        CHECK_THAT(saved.error().message, Catch::Contains("locked"));
        CHECK((*store)->load("one").ok());
        const auto second = FileStore::open_file(shop.file());
        REQUIRE_FALSE(second.ok());
        CHECK_THAT(second.error().message, Catch::Contains("locked"));
        QSqlQuery(other).exec("ROLLBACK");
        other.close();
    }
    QSqlDatabase::removeDatabase("holder");
    CHECK((*store)->save(sample_job("two")).ok());
}

TEST_CASE("a copy that was written only in part is not put back", "[store][trouble]") {
    ShopOnDisk shop;
    const fs::path copy = shop.file().string() + ".copy-20260101-000000-000";
    {
        auto store = FileStore::open_file(shop.file());
        for (const char* id : {"one", "two", "three"})
            REQUIRE((*store)->save(sample_job(id)).ok());
        REQUIRE((*store)->backup_to(copy).ok());
    }
    const auto half = GENERATE(0.5, 0.97, 0.0);
    fs::resize_file(copy, static_cast<std::uintmax_t>(static_cast<double>(fs::file_size(copy)) * half));
    const auto restored = restore_backup(copy, shop.file());
    CAPTURE(half, fs::file_size(copy));
    REQUIRE_FALSE(restored.ok());
    CHECK_THAT(restored.error().message, Catch::Contains("nothing has been changed"));
    CHECK(shop.window()->load("three").ok());
}

TEST_CASE("a copy that cannot be written leaves neither a part nor the last copy spoiled",
          "[store][trouble]") {
    ShopOnDisk shop;
    auto store = FileStore::open_file(shop.file());
    REQUIRE((*store)->save(sample_job("one")).ok());
    const auto copied = (*store)->backup_to(shop.path("no such folder") / "copy.sqlite");
    REQUIRE_FALSE(copied.ok());
    CHECK_THAT(copied.error().message, Catch::Contains("full"));
    // A half copy from a run that was cut short is none of the copies.
    std::ofstream(shop.file().string() + ".copy-20990101-000000-000.part") << "half";
    CHECK(backups_of(shop.file()).empty());
}

TEST_CASE("care of a shop file: a copy a day, none twice, damage said", "[store][trouble]") {
    ShopOnDisk shop;
    auto store = FileStore::open_file(shop.file());
    REQUIRE((*store)->save(sample_job("one")).ok());
    CHECK(copy_is_due(shop.file()));
    // While the shop is in use.
    REQUIRE(take_care_of(shop.file()).ok());
    CHECK_FALSE(copy_is_due(shop.file()));
    REQUIRE(take_care_of(shop.file()).ok());
    REQUIRE(backups_of(shop.file()).size() == 1);
    fs::last_write_time(backups_of(shop.file()).front(),
                        fs::file_time_type::clock::now() - std::chrono::hours(25));
    CHECK(copy_is_due(shop.file()));
    REQUIRE(take_care_of(shop.file()).ok());
    CHECK(backups_of(shop.file()).size() == 2);
    CHECK((*store)->save(sample_job("two")).ok());
    store = FileStore::open_file(shop.path("another"));
    std::ofstream(shop.file(), std::ios::binary | std::ios::trunc) << "rubbish";
    CHECK_THAT(take_care_of(shop.file()).error().message, Catch::Contains("damaged"));
}
