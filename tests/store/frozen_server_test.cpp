// SPDX-License-Identifier: GPL-3.0-or-later
// A server that stands still, and wires that break in the middle of an answer.
#include "store/server_store.h"
#include "tests/store/store_fixture.h"
#include "tests/support/faulty_wire.h"

using namespace eh;
using namespace eh::test;

namespace {

// Long beside what a statement takes on a busy machine, short beside the usual limit.
constexpr std::chrono::milliseconds short_wait{800};

// Whatever a test finds, the server runs on afterwards.
struct Thawed {
    ~Thawed() { PostgresCluster::shared().thaw(); }
};

Job long_job(const std::string& id, int readings) {
    Job job = sample_job(id);
    for (int n = 0; n < readings; ++n) {
        job.readings.push_back(ohms_reading("more" + std::to_string(n), for_ohms(), "main", 1 + n));
        job.readings.back().note = "reading number " + std::to_string(n);
    }
    return job;
}

}  // namespace

TEST_CASE("a server that stands still with its connections open counts as away", "[store][server][frozen]") {
    ShopOnDisk shop(true);
    auto bench = bench_at(shop, "unsent");
    bench->set_longest_wait(short_wait);
    Job job = sample_job("one");
    REQUIRE(bench->save(job).ok());

    const Thawed at_the_end;
    PostgresCluster::shared().freeze();
    job.readings.push_back(ohms_reading("r3", for_ohms(), "main", 3));
    REQUIRE(bench->save(job).ok());
    const StoreNews frozen = bench->news();
    CHECK(frozen.away);
    CHECK(frozen.unsent == 1);
    CHECK(bench->load("one")->readings.size() == 3);
    CHECK(bench->list()->size() == 1);

    PostgresCluster::shared().thaw();
    const StoreNews again = bench->news();
    CHECK_FALSE(again.away);
    CHECK(again.unsent == 0);
    CHECK(*bench_at(shop, "other bench")->load("one") == job);
}

TEST_CASE("every question to a server that stands still comes back", "[store][server][frozen]") {
    ShopOnDisk shop(true);
    const Job job = cured_job("one", "D1", 3.0);
    REQUIRE(bench_at(shop, "unsent")->save(job).ok());
    const Thawed at_the_end;
    const std::vector<std::pair<const char*, std::function<void(ServerStore&)>>> questions{
        {"list", [](ServerStore& s) { (void)s.list(); }},
        {"shelf", [](ServerStore& s) { (void)s.shelf(std::nullopt, 5); }},
        {"counts", [](ServerStore& s) { (void)s.counts(); }},
        {"search", [](ServerStore& s) { (void)s.search("one", 5); }},
        {"similar", [&](ServerStore& s) { CHECK_FALSE(s.similar(job, 5).ok()); }},
        {"repairs", [](ServerStore& s) { CHECK_FALSE(s.repairs().ok()); }},
        {"jobs on", [](ServerStore& s) { CHECK_FALSE(s.jobs_on(chained).ok()); }},
        {"heads", [](ServerStore& s) { CHECK_FALSE(s.heads(JobStage::intake).ok()); }},
        {"remove", [](ServerStore& s) { CHECK_FALSE(s.remove("one").ok()); }},
        {"add", [](ServerStore& s) { CHECK_FALSE(s.add_all({sample_job("two")}).ok()); }},
        {"current", [](ServerStore& s) { (void)s.is_current("one"); }},
        {"mark", [](ServerStore& s) { CHECK_FALSE(s.mark("x").ok()); }},
    };
    for (const auto& [name, ask] : questions) {
        CAPTURE(name);
        PostgresCluster::shared().thaw();
        auto bench = bench_at(shop, "unsent");
        bench->set_longest_wait(short_wait);
        PostgresCluster::shared().freeze();
        ask(*bench);
        CHECK(bench->news().away);
    }
}

TEST_CASE("an answer that breaks off is no answer: whole jobs and lists, or a refusal",
          "[store][server][frozen]") {
    ShopOnDisk shop(true);
    const Job job = long_job("one", 40);
    {
        auto bench = bench_at(shop, "unsent");
        REQUIRE(bench->save(job).ok());
        for (int n = 0; n < 30; ++n)
            REQUIRE(bench->save(sample_job("other-" + std::to_string(n))).ok());
    }
    FaultyWire wire(shop.address.port);
    shop.address.port = wire.port();
    int broken = 0, whole = 0;
    for (long bytes = 0; bytes < 18'000; bytes += bytes < 600 ? 53 : 331) {
        CAPTURE(bytes);
        wire.mend();
        // Asked through another view, which has nothing kept here to fall back to.
        const auto view = bench_at(shop, "unsent")->another()();
        REQUIRE(view.ok());
        wire.cut_after(bytes);
        const auto loaded = (*view)->load("one");
        const auto listed = (*view)->list();
        if (loaded)
            CHECK(*loaded == job);
        else
            CHECK(loaded.error().kind == ErrorKind::unavailable);
        if (listed)
            CHECK(listed->size() == 31);
        ++(loaded && listed ? whole : broken);
    }
    CHECK(broken > 5);
    CHECK(whole > 0);
}
