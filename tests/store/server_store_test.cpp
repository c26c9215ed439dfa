// SPDX-License-Identifier: GPL-3.0-or-later
// What is peculiar to a server: its address, its going away in the middle of a capture, two benches at once.
#include "store/server_store.h"

#include <QProcess>
#include <QSqlQuery>
#include <QThread>
#include <csignal>

#include "core/base/random.h"
#include "store/schema.h"
#include "tests/store/store_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("addresses of servers are read as they are written, what is none is refused", "[store][server]") {
    const auto full = parse_server_address("ann@shop.local:5433/repairs");
    REQUIRE(full.ok());
    CHECK(*full == ServerAddress{"shop.local", 5433, "repairs", "ann"});
    CHECK(full->text() == "ann@shop.local:5433/repairs");
    CHECK(*parse_server_address("box/shop") == ServerAddress{"box", 5432, "shop", ""});
    for (const char* wrong : {"", "box", "box/", "/shop", "box:/shop", "box:0/shop", "box:65536/shop",
                              "box:123456789012/shop", "box:5x/shop", "box/shop;password=1", "bo x/shop"}) {
        CAPTURE(wrong);
        CHECK_FALSE(parse_server_address(wrong).ok());
    }
}

TEST_CASE("a server that is not there is refused in words", "[store][server]") {
    ShopOnDisk shop(true);
    shop.address.port = 1;
    const auto store = ServerStore::open_server(shop.address, shop.path("unsent"));
    REQUIRE_FALSE(store.ok());
    CHECK(store.error().kind == ErrorKind::unavailable);
    CHECK_THAT(store.error().message, Catch::Contains("does not answer"));
    // A bench that knows the server may begin its day without it.
    auto away = ServerStore::open_server(shop.address, shop.path("unsent"), true);
    REQUIRE(away.ok());
    CHECK((*away)->save(sample_job("one")).ok());
    CHECK((*away)->news().away);
    CHECK((*away)->list()->size() == 1);
}

TEST_CASE("tables of a newer program on the server are left alone", "[store][server]") {
    ShopOnDisk shop(true);
    { REQUIRE(shop.window()->save(sample_job("one")).ok()); }
    {
        QSqlDatabase database = QSqlDatabase::addDatabase("QPSQL", "newer server");
        database.setHostName("127.0.0.1");
        database.setPort(shop.address.port);
        database.setDatabaseName(QString::fromStdString(shop.address.database));
        database.setUserName("shop");
        REQUIRE(database.open());
        REQUIRE(postgres_dialect().set_version(database, newest_schema_version + 1).ok());
    }
    QSqlDatabase::removeDatabase("newer server");
    const auto store = ServerStore::open_server(shop.address, shop.path("unsent"));
    REQUIRE_FALSE(store.ok());
    CHECK(store.error().kind == ErrorKind::newer_version);
}

TEST_CASE("the server goes in the middle of a capture: readings are kept here and sent later",
          "[store][server]") {
    ShopOnDisk shop(true);
    auto bench = bench_at(shop, "unsent");
    Job job = sample_job("one");
    REQUIRE(bench->save(job).ok());
    PostgresCluster::shared().kill();
    for (int n = 3; n < 6; ++n) {
        job.readings.push_back(ohms_reading("r" + std::to_string(n), for_ohms(), "main", n));
        REQUIRE(bench->save(job).ok());
        const StoreNews news = bench->news();
        CHECK(news.away);
        CHECK(news.unsent == 1);
    }
    // What is kept here stands on the shelf; the job at hand goes on.
    CHECK(bench->list()->size() == 1);
    CHECK(bench->counts()->at(WaitsFor::bench) == 1);
    CHECK(bench->search("N-one", 5)->size() == 1);
    CHECK(bench->load("one")->readings.size() == 5);
    CHECK_FALSE(bench->remove("one").ok());
    Job begun_here = sample_job("begun-here");
    REQUIRE(bench->save(begun_here).ok());
    CHECK(bench->news().unsent == 2);

    SECTION("the same window sends them") {
        PostgresCluster::shared().start();
        const StoreNews news = bench->news();
        CHECK_FALSE(news.away);
        CHECK(news.unsent == 0);
        CHECK(news.conflicts.empty());
    }
    SECTION("a window that is opened later sends them") {
        bench.reset();
        PostgresCluster::shared().start();
        bench = bench_at(shop, "unsent");
        CHECK(bench->news().unsent == 0);
    }
    auto other = bench_at(shop, "other bench");
    CHECK(*other->load("one") == job);
    CHECK(*other->load("begun-here") == begun_here);
    CHECK(bench->save(*bench->load("one")).ok());
    // Another view of the same shop, as the statistics take it in their thread.
    const auto view = bench->another()();
    REQUIRE(view.ok());
    CHECK((*view)->heads(JobStage::intake)->size() == 2);
}

TEST_CASE("what was kept here meets a change on the server: said, and no reading lost", "[store][server]") {
    ShopOnDisk shop(true);
    auto bench = bench_at(shop, "unsent");
    Job job = sample_job("one");
    REQUIRE(bench->save(job).ok());
    PostgresCluster::shared().kill();
    job.readings.push_back(ohms_reading("r3", for_ohms(), "main", 0.5));
    job.ticket.customer = "Mine";
    REQUIRE(bench->save(job).ok());
    PostgresCluster::shared().start();
    auto other = bench_at(shop, "other bench");
    Job theirs = *other->load("one");
    theirs.ticket.customer = "Theirs";
    theirs.readings.push_back(ohms_reading("r3", for_ohms(), "vin", 7.0));
    REQUIRE(other->save(theirs).ok());
    // Sent by the same window, or by one that is opened later: said either way, and once.
    if (GENERATE(false, true)) {
        bench.reset();
        bench = bench_at(shop, "unsent");
    }
    const StoreNews news = bench->news();
    CHECK(news.conflicts == std::vector<std::string>{"one"});
    CHECK(bench->news().conflicts.empty());
    CHECK(news.unsent == 0);
    const Job merged = *bench->load("one");
    CHECK(merged.ticket.customer == "Theirs");
    CHECK(merged.readings.size() == 4);
}

TEST_CASE("a reading undone while the server is away does not come back with it", "[store][server]") {
    ShopOnDisk shop(true);
    auto bench = bench_at(shop, "unsent");
    Job job = sample_job("one");
    REQUIRE(bench->save(job).ok());
    PostgresCluster::shared().kill();
    Job undone = job;
    undone.readings.pop_back();
    const bool redone = GENERATE(false, true);
    REQUIRE(bench->save(undone).ok());
    if (redone)
        REQUIRE(bench->save(job).ok());
    // The same window sends it, or one that is opened later and knows nothing of what stood there.
    if (GENERATE(false, true)) {
        bench.reset();
        PostgresCluster::shared().start();
        bench = bench_at(shop, "unsent");
    } else {
        PostgresCluster::shared().start();
    }
    CHECK(bench->news().unsent == 0);
    CHECK(*bench->load("one") == (redone ? job : undone));
    auto other = bench_at(shop, "other bench");
    CHECK(*other->load("one") == (redone ? job : undone));
}

TEST_CASE("a bench that is killed while it keeps jobs for a server that is away sends every one later",
          "[store][server][slow]") {
    ShopOnDisk shop(true);
    { REQUIRE(bench_at(shop, "unsent")->save(sample_job("other")).ok()); }
    PostgresCluster::shared().kill();
    Random random(20261129);
    std::vector<std::string> promised;
    for (int round = 0; round < 12; ++round) {
        QProcess writer;
        writer.start(EH_STORE_WRITER, {QString::fromStdString(shop.path("unsent").string()),
                                       QString::fromStdString(shop.address.text())});
        REQUIRE(writer.waitForStarted());
        while (!writer.canReadLine())
            REQUIRE(writer.waitForReadyRead());
        QThread::msleep(static_cast<unsigned long>(random.below(60)));
        ::kill(static_cast<pid_t>(writer.processId()), SIGKILL);
        writer.waitForFinished();
        const QByteArrayList lines = writer.readAllStandardOutput().split('\n');
        for (qsizetype i = 0; i + 1 < lines.size(); ++i)
            promised.push_back(lines[i].toStdString());
        // A job that is kept without a mark would never be sent.
        auto kept = FileStore::open_file(shop.path("unsent"));
        REQUIRE(kept.ok());
        const auto jobs = (*kept)->list();
        REQUIRE(jobs.ok());
        for (const JobSummary& job : *jobs) {
            CAPTURE(round, job.id);
            CHECK((*kept)->mark(job.id)->has_value());
        }
    }
    PostgresCluster::shared().start();
    auto bench = bench_at(shop, "unsent");
    CHECK(bench->news().unsent == 0);
    auto other = bench_at(shop, "other bench");
    for (const std::string& id : promised)
        CHECK(other->load(id).ok());
    CHECK(promised.size() > 12);
}
