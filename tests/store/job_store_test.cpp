// SPDX-License-Identifier: GPL-3.0-or-later
// What every store must do, whichever database is behind it: each case runs on both.
#include "store/job_store.h"

#include "core/shop/search_text.h"
#include "tests/store/store_fixture.h"
#include "tests/support/seen.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("a job comes back from the store as it went in", "[store]") {
    ShopOnDisk shop(GENERATE(false, true));
    const Job job = sample_job("one");
    { REQUIRE(shop.window()->save(job).ok()); }
    auto store = shop.window();
    const auto back = store->load("one");
    REQUIRE(back.ok());
    CHECK(*back == job);
    const auto list = store->list();
    REQUIRE(list.ok());
    REQUIRE(list->size() == 1);
    CHECK(list->front().customer == job.ticket.customer);
    Job head = job;
    head.readings.clear();
    const auto heads = store->heads(JobStage::intake);
    REQUIRE(heads.ok());
    CHECK(*heads == std::vector<Job>{head});
    CHECK(store->heads(JobStage::proof)->empty());
}

TEST_CASE("readings that are taken back or changed are so in the store", "[store]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto store = shop.window();
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
    CHECK(store->search("N-one", 5)->empty());
}

TEST_CASE("two windows on one job: the conflict is said and no reading is lost", "[store]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto first = shop.window();
    auto second = shop.window();
    REQUIRE(first->save(sample_job("one")).ok());
    Job mine = *first->load("one");
    Job theirs = *second->load("one");
    theirs.ticket.customer = "Theirs";
    theirs.readings.push_back(ohms_reading("r7", for_ohms(), "main", 5.0));
    REQUIRE(second->save(theirs).ok());
    mine.ticket.customer = "Mine";
    mine.readings.push_back(ohms_reading("r8", for_ohms(), "vin", 6.0));
    // Both windows count up from the same last reading, so that they give the same id to different readings.
    mine.readings.push_back(ohms_reading("r7", for_ohms(), "vbus2", 8.0));
    const auto saved = first->save(mine);
    REQUIRE_FALSE(saved.ok());
    CHECK_THAT(saved.error().message, Catch::Contains("another window"));
    const Job merged = *first->load("one");
    CHECK(merged.ticket.customer == "Theirs");
    REQUIRE(merged.readings.size() == 5);
    CHECK(find_reading(merged, "r7")->place() == "main");
    CHECK(find_reading(merged, "r8")->place() == "vin");
    CHECK(std::count_if(merged.readings.begin(), merged.readings.end(),
                        [](const Reading& r) { return r.place() == "vbus2" && number_of(r) == 8.0; }) == 1);
    CHECK(first->save(merged).ok());
    CHECK(first->is_current("one"));
    CHECK_FALSE(second->is_current("one"));
    REQUIRE(second->load("one").ok());
    CHECK(second->is_current("one"));
}

TEST_CASE("windows see each other's changes, and not their own", "[store]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto first = shop.window();
    auto second = shop.window();
    (void)first->news();
    (void)second->news();
    REQUIRE(first->save(sample_job("one")).ok());
    CHECK_FALSE(first->news().changed);
    CHECK(second->news().changed);
    CHECK_FALSE(second->news().changed);
    REQUIRE(second->remove("one").ok());
    CHECK(first->news().changed);
    CHECK_FALSE(second->news().changed);
}

TEST_CASE("the shelf holds jobs by what they wait for, those due first", "[store][shelf]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto store = shop.window();
    const auto put = [&](const std::string& id, std::optional<WaitsFor> on, std::int64_t due_ms,
                         JobStage stage) {
        Job job = sample_job(id);
        job.stage = stage;
        job.waiting.on = on;
        job.waiting.due_ms = due_ms;
        REQUIRE(store->save(job).ok());
    };
    put("bench", std::nullopt, 0, JobStage::bench);
    put("late", WaitsFor::part, 2000, JobStage::repair);
    put("soon", WaitsFor::part, 1000, JobStage::repair);
    put("undated", WaitsFor::part, 0, JobStage::repair);
    put("done", std::nullopt, 0, JobStage::closed);
    put("call", std::nullopt, 0, JobStage::handover);
    const auto ids = [](const std::vector<JobSummary>& jobs) {
        std::vector<std::string> all;
        for (const JobSummary& job : jobs)
            all.push_back(job.id);
        return all;
    };
    CHECK(ids(*store->shelf(WaitsFor::part, 10)) == std::vector<std::string>{"soon", "late", "undated"});
    CHECK(ids(*store->shelf(WaitsFor::part, 1)) == std::vector<std::string>{"soon"});
    CHECK(ids(*store->shelf(WaitsFor::nothing, 10)) == std::vector<std::string>{"done"});
    CHECK(store->shelf(std::nullopt, 10)->size() == 5);
    const auto counts = *store->counts();
    CHECK(counts.at(WaitsFor::part) == 3);
    CHECK(counts.at(WaitsFor::customer) == 1);
    CHECK(counts.at(WaitsFor::bench) == 1);
    CHECK(store->shelf(WaitsFor::part, 10)->front().waits == WaitState{WaitsFor::part, 1000});
}

TEST_CASE("search finds jobs by the beginnings of words anywhere in them, whatever the accents",
          "[store][search]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto store = shop.window();
    Job job = sample_job("one");
    job.ticket.claim = "fell into the bath; no light at all";
    job.acts.push_back({"a1", Work::replace, "sp2", "donor board 14", 20.0, 1.0, "pad was torn", 5, "", ""});
    REQUIRE(store->save(job).ok());
    REQUIRE(store->save(sample_job("zwei")).ok());
    const auto found = [&](const std::string& words) {
        std::string ids;
        const auto jobs = store->search(words, 10);
        REQUIRE(jobs.ok());
        for (const JobSummary& summary : *jobs)
            ids += summary.id + " ";
        return ids;
    };
    CHECK(found("bath") == "one ");
    CHECK(found("BATH fell") == "one ");
    CHECK(found("torn bath") == "one ");
    CHECK(found("bath zwei") == "");
    CHECK(found("n-zwei") == "zwei ");
    CHECK(found("amili") == "zwei one ");  // newest first
    CHECK(found("Ämilie o'neil") == "zwei one ");
    CHECK(found("illie") == "");  // beginnings of words only
    CHECK(found("") == "");
    // What the database's own language of questions holds for signs is text here.
    for (const char* odd :
         {"\"", "bath* OR two", "NEAR(bath two)", "a:b & !c | (d", "'; DROP TABLE jobs", "-", "%"})
        CHECK(store->search(odd, 10).ok());
    job.ticket.claim = "no charge";
    REQUIRE(store->save(*store->load("one")).ok());
    REQUIRE(store->save(job).ok());
    CHECK(found("bath") == "");
    CHECK(found("charge") == "one ");
}

TEST_CASE("similar jobs are those whose readings were, with what fixed them", "[store][similar]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto store = shop.window();
    REQUIRE(store->save(cured_job("short", "sp2", 0.4)).ok());
    REQUIRE(store->save(cured_job("healthy", "memory", 4500.0)).ok());
    Job unproven = cured_job("unproven", "sp2", 0.4);
    unproven.proof.front().state = ProofState::open;
    REQUIRE(store->save(unproven).ok());
    Job other_kind = cured_job("other-kind", "sp2", 0.4);
    other_kind.ticket.topology = "barrel-id";
    REQUIRE(store->save(other_kind).ok());
    Job asked = sample_job("asked");
    asked.readings.push_back(ohms_reading("r3", for_ohms(), "main", 0.5));
    const auto similar = store->similar(asked, 5);
    REQUIRE(similar.ok());
    REQUIRE(similar->size() == 2);
    CHECK(similar->front().job.id == "short");
    CHECK(similar->front().job.cure_block == "sp2");
    CHECK(similar->front().alike == 3);
    CHECK(similar->front().share > similar->back().share);
    // A job is not like itself.
    CHECK(store->similar(*store->load("short"), 5)->size() == 1);
    const auto repairs = *store->repairs();
    REQUIRE(repairs.size() == 3);
    CHECK(repairs[1] == ConfirmedRepair{chained, "memory", Work::replace, 1});
    CHECK(*store->jobs_on(chained) == 3);
    CHECK(*store->jobs_on("barrel-id") == 1);
    CHECK(*store->jobs_on("no-such-kind") == 0);
}

TEST_CASE("a copy is a whole shop file, from either database", "[store][copy]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto store = shop.window();
    REQUIRE(store->save(sample_job("one")).ok());
    REQUIRE(store->save(cured_job("two", "sp2", 0.4)).ok());
    REQUIRE(store->backup_to(shop.path("copy.sqlite")).ok());
    auto copy = FileStore::open_file(shop.path("copy.sqlite"));
    REQUIRE(copy.ok());
    CHECK(*(*copy)->list() == *store->list());
    CHECK(*(*copy)->load("two") == *store->load("two"));
    // Copying does not make this window forget what it has seen of a job that is open.
    auto other = shop.window();
    Job theirs = *other->load("one");
    theirs.ticket.customer = "Theirs";
    REQUIRE(other->save(theirs).ok());
    REQUIRE(store->backup_to(shop.path("copy.sqlite")).ok());
    CHECK_FALSE(store->save(sample_job("one")).ok());
}

TEST_CASE("two edits after a conflict add no reading twice, and the other window sees what was added",
          "[store]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto first = shop.window();
    auto second = shop.window();
    REQUIRE(first->save(sample_job("one")).ok());
    Job mine = *first->load("one");
    Job theirs = *second->load("one");
    theirs.readings.push_back(ohms_reading("r3", for_ohms(), "main", 5.0));
    REQUIRE(second->save(theirs).ok());
    // The same id for another reading, so that it is added under an id of its own.
    mine.readings.push_back(ohms_reading("r3", for_ohms(), "vin", 6.0));
    for (int edit = 0; edit < 3; ++edit) {
        mine.ticket.customer += "x";
        const auto saved = first->save(mine);
        REQUIRE_FALSE(saved.ok());
        CHECK(saved.error().kind == ErrorKind::conflict);
    }
    CHECK_FALSE(second->is_current("one"));
    CHECK(second->load("one")->readings.size() == 4);
    // A change of what was added, and taking it back, meet it under the id it was given there.
    mine.readings.back().note = "taken warm";
    REQUIRE_FALSE(first->save(mine).ok());
    const Job noted = *second->load("one");
    REQUIRE(noted.readings.size() == 4);
    CHECK(noted.readings.back().note == "taken warm");
    const bool undone = GENERATE(false, true);
    if (undone) {
        mine.readings.pop_back();
        REQUIRE_FALSE(first->save(mine).ok());
    }
    const std::size_t left = undone ? 3 : 4;
    CHECK(first->load("one")->readings.size() == left);
    CHECK(find_reading(*first->load("one"), "r3")->place() == "main");
    CHECK(second->load("one")->readings.size() == left);
}

TEST_CASE("a reading taken back beside another window's edit is taken back", "[store]") {
    ShopOnDisk shop(GENERATE(false, true));
    auto first = shop.window();
    auto second = shop.window();
    REQUIRE(first->save(sample_job("one")).ok());
    Job mine = *first->load("one");
    Job theirs = *second->load("one");
    theirs.ticket.customer = "Theirs";
    REQUIRE(second->save(theirs).ok());
    mine.readings.pop_back();
    REQUIRE_FALSE(first->save(mine).ok());
    const Job met = *second->load("one");
    CHECK(met.readings.size() == 1);
    CHECK(met.ticket.customer == "Theirs");
}
