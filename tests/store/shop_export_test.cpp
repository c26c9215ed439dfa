// SPDX-License-Identifier: GPL-3.0-or-later
// The whole shop as one file: out, in, and without what makes customers known.
#include "store/shop_export.h"

#include <QTemporaryDir>
#include <fstream>

#include "core/base/files.h"
#include "core/job/job_json.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

std::filesystem::path path_in(const QTemporaryDir& folder, const char* name) {
    return std::filesystem::path(folder.path().toStdString()) / name;
}

Job shop_job(const std::string& id) {
    Job job;
    job.id = JobId::made(id);
    job.ticket.number = "N-" + id;
    job.ticket.topology = chained;
    job.ticket.customer = "Äusserst \"private\"";
    job.ticket.claim = "my secret words";
    job.readings = {meter_reading("r1", plugged("p1"), MeterPattern::steady, 5.02, 0.1834567890123456)};
    job.acts.push_back({"a1", Work::replace, "sp2", "new", 20.0, 1.0, "secret note", 5, "sac305", ""});
    job.battery.readings.push_back({1.0, 7.9, true, 40.0});
    return job;
}

}  // namespace

TEST_CASE("a shop goes out, into an empty one, and out again the same", "[store][export]") {
    const QTemporaryDir folder;
    auto first = JobStore::open(path_in(folder, "first.sqlite"));
    REQUIRE(first.ok());
    for (const char* id : {"b", "a", "c"})
        REQUIRE((*first)->save(shop_job(id)).ok());
    const auto parts = path_in(folder, "first.parts");
    std::filesystem::create_directories(parts);
    for (const char* name : {"stock.json", "donor-results.json"})
        std::filesystem::copy(std::filesystem::path(EH_SOURCE_DIR) / "data/demo-shop" / name, parts / name);
    std::ofstream(parts / "other.txt") << "not of the shop";
    const auto text = export_shop(**first, parts);
    REQUIRE(text.ok());
    CHECK(text->find("not of the shop") == std::string::npos);

    auto second = JobStore::open(path_in(folder, "second.sqlite"));
    REQUIRE(second.ok());
    const auto imported = import_shop(*text, "shop.json", **second, path_in(folder, "second.parts"));
    REQUIRE(imported.ok());
    CHECK(imported->jobs == 3);
    CHECK(imported->files == 2);
    const auto again = export_shop(**second, path_in(folder, "second.parts"));
    REQUIRE(again.ok());
    CHECK(*again == *text);
    CHECK(*(*second)->load("a") == shop_job("a"));
    // Twice takes nothing over twice, and writes over nothing.
    const auto twice = import_shop(*text, "shop.json", **second, path_in(folder, "second.parts"));
    CHECK(twice->jobs == 0);
    CHECK(twice->known == 3);
    CHECK(twice->kept == 2);
}

TEST_CASE("an export without personal data holds no word of a customer", "[store][export]") {
    const QTemporaryDir folder;
    auto store = JobStore::open(path_in(folder, "shop.sqlite"));
    REQUIRE(store.ok());
    Job job = shop_job("a");
    job.findings.push_back({"f1", "secret finding", 1});
    REQUIRE((*store)->save(job).ok());
    ShopExportOptions options;
    options.personal_data = false;
    const auto text = export_shop(**store, {}, options);
    REQUIRE(text.ok());
    for (const char* word : {"private", "secret"})
        CHECK(text->find(word) == std::string::npos);
    // What the statistics need stays, and so does the job in the store.
    CHECK(text->find("sac305") != std::string::npos);
    CHECK((*store)->load("a")->ticket.customer == job.ticket.customer);
}

TEST_CASE("what is no export is refused before anything is written", "[store][export]") {
    const QTemporaryDir folder;
    auto store = JobStore::open(path_in(folder, "shop.sqlite"));
    REQUIRE(store.ok());
    const std::string good = job_to_text(shop_job("a"));
    for (const std::string& wrong :
         {std::string(), std::string("{}"),
          std::string(R"({"format":"eager-hound.shop/2","jobs":[],"parts":{}})"),
          R"({"format":"eager-hound.shop/1","jobs":[)" + good +
              R"(,{"format":"eager-hound.job/1"}],"parts":{}})",
          std::string(R"({"format":"eager-hound.shop/1","jobs":[],"parts":{"../evil.json":{}}})")}) {
        const auto imported = import_shop(wrong, "shop.json", **store, path_in(folder, "parts"));
        CHECK_FALSE(imported.ok());
        CHECK((*store)->list()->empty());
    }
    CHECK_FALSE(std::filesystem::exists(path_in(folder, "evil.json")));
}
