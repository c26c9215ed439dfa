// SPDX-License-Identifier: GPL-3.0-or-later
// Quote and returns in the window.
#include <QStandardPaths>

#include "app/demo/earlier_jobs.h"
#include "app/screens/handover/handover_page.h"
#include "app/screens/intake/intake_page.h"
#include "app/screens/quote/quote_panel.h"
#include "app/screens/repair/repair_page.h"
#include "app/screens/returns/returns_panel.h"
#include "app/shop_menu.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("a quote follows what is suspected, the limit and what was spent", "[app][quote]") {
    Window w;
    QuotePanel& quote = find_page<QuotePanel>(w.window);
    CHECK(quote.verdict() == "No quote yet");
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    CHECK(quote.verdict().contains(" to "));
    CHECK(quote.leftOut().contains("limit"));
    w.workbench.session.edit("limit", [](Job& job) { job.ticket.price_limit = 5000.0; });
    CAPTURE(quote.leftOut().toStdString());
    CHECK(quote.leftOut().contains("&gt;99 %"));
    quote.worth().setValue(20.0);
    quote.takeButton().click();
    REQUIRE(w.job().ticket.estimate);
    CHECK(*w.job().ticket.estimate > 30.0);
    // The clock of the work runs against the limit.
    w.workbench.session.edit("limit", [](Job& job) { job.ticket.price_limit = 20.0; });
    find_page<RepairPage>(w.window).propose("sp2", Work::replace);
    REQUIRE(find_page<RepairPage>(w.window).record());
    w.workbench.session.edit("minutes", [](Job& job) { job.acts.back().minutes = 60.0; });
    CHECK(quote.spent().contains("Stop and ask"));
}

TEST_CASE("what comes back is counted from jobs that name an earlier one", "[app][returns]") {
    Window w;
    ReturnsPanel& returns = find_page<ReturnsPanel>(w.window);
    find_tabs(w.window, "shelf tabs").setCurrentIndex(1);
    CHECK(returns.comparison().contains("Nothing has left the shop"));
    const auto jobs = earlier_jobs(1'800'000'000'000);
    returns.show(jobs, 1'800'000'000'000);
    returns.grouping().setCurrentIndex(2);
    REQUIRE(returns.groups().rowCount() == 2);
    CHECK(returns.groups().cell(0, 0) == "Tin-lead 63/37");
    CHECK(returns.groups().cell(0, 3).contains("%"));
    CHECK(returns.comparison().contains("holds longer"));
    // By hand: work with its solder and way, handed over, and the next ticket that names it.
    Job job;
    job.id = "one";
    job.ticket.number = "N-1";
    job.ticket.topology = chained;
    w.workbench.session.open(job);
    find_page<RepairPage>(w.window).propose("rec1", Work::replace);
    find_page<RepairPage>(w.window).solder().setCurrentIndex(
        find_page<RepairPage>(w.window).solder().findData("sac305"));
    find_page<RepairPage>(w.window).school().setCurrentIndex(
        find_page<RepairPage>(w.window).school().findData("original_kept"));
    REQUIRE(find_page<RepairPage>(w.window).record());
    CHECK(w.job().acts.back().solder == "sac305");
    CHECK(w.job().acts.back().school == "original_kept");
}

TEST_CASE("a shop is exported, imported, put back from a copy, and a customer forgotten", "[app][shop]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.workbench.session.edit("customer", [](Job& job) { job.ticket.customer = "Somebody Known"; });
    const std::string id = w.job().id;
    Job same = w.job();
    same.id = "same-customer";
    w.put(same);
    Job other = same;
    other.id = "other-customer";
    other.ticket.customer = "Somebody Else";
    w.put(other);
    const QString file = w.folder.filePath("export.json");
    REQUIRE(w.told([&](auto done) { find_page<ShopMenu>(w.window).exportShop(file, true, done); }).ok());
    const std::filesystem::path copy = w.folder.filePath("shop.sqlite.copy-1").toStdString();
    REQUIRE(w.on_store([copy](JobStore& store) { return store.backup_to(copy); }).ok());
    REQUIRE(w.told([&](auto done) { find_page<ShopMenu>(w.window).forgetCustomer(done); }).ok());
    CHECK(w.job().ticket.customer.empty());
    CHECK(w.stored("same-customer").ticket.customer.empty());
    CHECK(w.stored("other-customer").ticket.customer == "Somebody Else");
    CHECK(w.on_store([](JobStore& store) { return store.search("Known", 5); })->empty());
    CHECK_FALSE(w.workbench.session.undoStack().canUndo());
    CHECK_FALSE(w.job().readings.empty());
    // The copy brings the customer back; the window shows the restored shop.
    REQUIRE(w.told([&](auto done) { find_page<ShopMenu>(w.window).restore(copy, done); }).ok());
    CHECK_FALSE(w.workbench.session.hasJob());
    w.open_job(id);
    CHECK(w.job().ticket.customer == "Somebody Known");
    REQUIRE(w.on_store([id](JobStore& store) { return store.remove(id); }).ok());
    REQUIRE(w.told([&](auto done) { find_page<ShopMenu>(w.window).importShop(file, done); }).ok());
    w.open_job(id);
    CHECK(w.job().ticket.customer == "Somebody Known");
    CHECK_FALSE(w.told([&](auto done) {
                     find_page<ShopMenu>(w.window).importShop(w.folder.filePath("nothing.json"), done);
                 }).ok());
    CHECK_FALSE(w.told([&](auto done) {
                     find_page<ShopMenu>(w.window).exportShop("/no/such/folder/export.json", true, done);
                 }).ok());
}
