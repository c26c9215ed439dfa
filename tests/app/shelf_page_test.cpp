// SPDX-License-Identifier: GPL-3.0-or-later
// The shelf with a real store behind it: what jobs wait for, search over everything, earlier jobs like the
// chosen one; two windows on one shop; a server that goes and comes back.
#include "app/screens/shelf/shelf_page.h"
#include "app/screens/repair/repair_page.h"

#include "app/screens/returns/own_hits_panel.h"
#include "app/screens/shelf/similar_panel.h"
#include "app/screens/shelf/waiting_form.h"
#include "app/shop_menu.h"
#include "store/server_store.h"
#include "tests/app/app_fixture.h"
#include "tests/store/store_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

void put(JobStore& store, const Job& job) {
    REQUIRE(store.save(job).ok());
}

// Reads the shelf anew, as it is then.
void refresh(Window& w) {
    find_page<ShelfPage>(w.window).refresh();
    w.wait_for_store();
}

// What another side has written is looked for now, and taken over.
void look(Window& w) {
    w.workbench.watch.look();
    w.wait_for_store();
}

Job waiting_job(const std::string& id, WaitsFor on, std::int64_t due_ms = 0) {
    Job job = sample_job(id);
    job.waiting = {on, due_ms, "note of " + id};
    return job;
}

QString cell(ShelfPage& page, int row, int column) {
    return page.table().model()->index(row, column).data().toString();
}

}  // namespace

TEST_CASE("each shelf shows the jobs that wait for it, with how many there are", "[app][shelf]") {
    Window w;
    ShelfPage& page = find_page<ShelfPage>(w.window);
    CHECK(page.table().isHidden() == false);
    w.put(waiting_job("one", WaitsFor::part, 1'000));
    w.put(waiting_job("two", WaitsFor::part));
    w.put(waiting_job("three", WaitsFor::customer));
    refresh(w);
    CHECK(page.table().model()->rowCount() == 3);
    CHECK(page.shelves().model()->index(0, 0).data(ShelvesModel::CountRole).toInt() == 3);
    int row = 0;
    while (ShelvesModel::waitsOf(row) != WaitsFor::part)
        ++row;
    page.shelves().setCurrentIndex(page.shelves().model()->index(row, 0));
    w.wait_for_store();
    REQUIRE(page.table().model()->rowCount() == 2);
    // The one with a date stands first; its date is long past, which shows.
    CHECK(cell(page, 0, ShelfModel::NumberColumn) == "N-one");
    CHECK(cell(page, 0, ShelfModel::WaitsColumn) == "a part: note of one");
    CHECK(page.table().model()->index(0, ShelfModel::DueColumn).data(Qt::ForegroundRole).value<QColor>() ==
          theme::colours().bad);
    CHECK(cell(page, 1, ShelfModel::DueColumn).isEmpty());
    std::string chosen;
    QObject::connect(&page, &ShelfPage::jobChosen, [&](const std::string& id) { chosen = id; });
    page.table().setCurrentIndex(page.table().model()->index(1, 0));
    emit page.table().activated(page.table().currentIndex());
    CHECK(chosen == "two");
}

TEST_CASE("what a job waits for is written under the shelf, of the open job and of others", "[app][shelf]") {
    Window w;
    ShelfPage& page = find_page<ShelfPage>(w.window);
    w.put(sample_job("one"));
    refresh(w);
    REQUIRE(eventually([&] { return page.waiting().isEnabled(); }));
    WaitingForm& form = page.waiting();
    const auto choose = [&](WaitsFor on) {
        form.on().setCurrentIndex(form.on().findData(static_cast<int>(on)));
        emit form.on().activated(form.on().currentIndex());
    };
    choose(WaitsFor::part);
    form.due().setDate(QDate(2031, 5, 6));
    form.note().setText("jack ordered");
    emit form.note().editingFinished();
    w.wait_for_store();
    const Job stored = w.stored("one");
    CHECK(stored.waiting.on == WaitsFor::part);
    CHECK(stored.waiting.note == "jack ordered");
    CHECK(QDateTime::fromMSecsSinceEpoch(stored.waiting.due_ms).date() == QDate(2031, 5, 6));
    CHECK(cell(page, 0, ShelfModel::WaitsColumn) == "a part: jack ordered");
    // Of the open job it is an edit like any other, and can be undone.
    w.open_job("one");
    w.window.go(MainWindow::ShelfStation);
    REQUIRE(eventually([&] { return form.note().text() == "jack ordered"; }));
    choose(WaitsFor::customer);
    CHECK(w.job().waiting.on == WaitsFor::customer);
    w.workbench.session.undoStack().undo();
    CHECK(w.job().waiting.on == WaitsFor::part);
}

TEST_CASE("search looks into every job, closed ones too", "[app][shelf][search]") {
    Window w;
    ShelfPage& page = find_page<ShelfPage>(w.window);
    Job closed = cured_job("old", "sp2", 0.4);
    closed.acts.front().note = "pad torn off, wire to the via";
    w.put(closed);
    w.put(sample_job("new"));
    refresh(w);
    CHECK(page.table().model()->rowCount() == 1);
    w.press(Qt::Key_F, Qt::ControlModifier);
    w.type("torn vi");
    REQUIRE(eventually([&] { return cell(page, 0, ShelfModel::NumberColumn) == "N-old"; }));
    page.search().setText("nobody wrote this");
    REQUIRE(eventually([&] { return page.table().model()->rowCount() == 0; }));
    page.search().clear();
    REQUIRE(eventually([&] { return cell(page, 0, ShelfModel::NumberColumn) == "N-new"; }));
}

TEST_CASE("earlier jobs like the chosen one stand below it, with what fixed them", "[app][shelf][similar]") {
    Window w;
    ShelfPage& page = find_page<ShelfPage>(w.window);
    w.put(cured_job("a", "sp2", 0.4));
    w.put(cured_job("b", "sp2", 0.45));
    w.put(cured_job("c", "memory", 4000.0));
    Job asked = sample_job("asked");
    asked.readings.push_back(ohms_reading("r3", for_ohms(), "main", 0.42));
    w.put(asked);
    refresh(w);
    SimilarPanel& similar = page.similar();
    REQUIRE(eventually([&] { return similar.rows().rowCount() == 3; }));
    CHECK(similar.rows().cell(0, 3).contains("Surge protector"));
    CHECK(similar.rows().cell(2, 1) == "N-c");
    CHECK(similar.says().text().contains("2 of these 3"));
}

TEST_CASE("two windows on one shop: each sees what the other writes", "[app][shelf][benches]") {
    Window w;
    w.put(sample_job("one"));
    w.open_job("one");
    auto other = JobStore::open(w.folder.filePath("shop.sqlite").toStdString());
    REQUIRE(other.ok());
    Job theirs = *(*other)->load("one");
    theirs.ticket.customer = "Theirs";
    theirs.readings.push_back(ohms_reading("r9", for_ohms(), "main", 2.0));
    put(**other, theirs);
    look(w);
    CHECK(w.job().ticket.customer == "Theirs");
    CHECK(w.job().readings.size() == 3);
    CHECK_FALSE(w.workbench.session.undoStack().canUndo());
    // Both write before either looks: said, theirs stands, no reading is lost.
    theirs = *(*other)->load("one");
    theirs.ticket.customer = "Theirs again";
    put(**other, theirs);
    w.workbench.session.addReading(ohms_reading("", for_ohms(), "vin", 7.0));
    look(w);
    CHECK(w.job().ticket.customer == "Theirs again");
    CHECK(std::any_of(w.job().readings.begin(), w.job().readings.end(),
                      [](const Reading& reading) { return reading.place() == "vin"; }));
    w.window.go(MainWindow::ShelfStation);
    put(**other, sample_job("two"));
    look(w);
    w.wait_for_store();
    CHECK(find_page<ShelfPage>(w.window).table().model()->rowCount() == 2);
}

TEST_CASE("the window on a server: gone, work goes on and is said, back, it is sent",
          "[app][shelf][server]") {
    Window w;
    const ServerAddress address = PostgresCluster::shared().fresh_database("window");
    const std::filesystem::path beside = w.folder.path().toStdString();
    REQUIRE_FALSE(
        w.told([&](auto done) { find_page<ShopMenu>(w.window).useServer("no address", beside, done); }).ok());
    REQUIRE(w.told([&](auto done) {
                 find_page<ShopMenu>(w.window).useServer(QString::fromStdString(address.text()), beside,
                                                         done);
             }).ok());
    REQUIRE(w.on_store([](JobStore& store) {
        auto* server = dynamic_cast<ServerStore*>(&store);
        if (server != nullptr)
            server->set_retry_after(std::chrono::milliseconds(0));
        return server != nullptr;
    }));
    w.put(sample_job("one"));
    w.open_job("one");
    PostgresCluster::shared().kill();
    w.workbench.session.addReading(ohms_reading("", for_ohms(), "vin", 7.0));
    look(w);
    const auto said = [&](const QString& words) {
        for (const QLabel* label : w.window.findChildren<QLabel*>()) {
            if (label->text().contains(words))
                return true;
        }
        return false;
    };
    CHECK(said("1 job is kept here"));
    PostgresCluster::shared().start();
    look(w);
    CHECK_FALSE(said("kept here"));
    auto other = ServerStore::open_server(address, beside / "other.sqlite");
    REQUIRE(other.ok());
    CHECK((*other)->load("one")->readings.size() == 3);
    CHECK_FALSE(
        w.told([&](auto done) { find_page<ShopMenu>(w.window).restore(beside / "copy", done); }).ok());
    REQUIRE(w.told([&](auto done) { find_page<ShopMenu>(w.window).useServer("", beside, done); }).ok());
    CHECK(w.workbench.preferences.shopServer().isEmpty());
}

TEST_CASE("what was said before the work is kept and judged by what cured", "[app][hits]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    find_page<RepairPage>(w.window).propose("sp2", Work::replace);
    REQUIRE(find_page<RepairPage>(w.window).record());
    REQUIRE_FALSE(w.job().said.repairs.empty());
    CHECK(w.job().said.repairs.front().block == "sp2");
    CHECK(w.job().said.repairs.front().probability == Approx(w.suspicion("sp2")).epsilon(0.3));
    const SaidBefore before = w.job().said;
    find_page<RepairPage>(w.window).propose("memory", Work::replace);
    REQUIRE(find_page<RepairPage>(w.window).record());
    CHECK(w.job().said == before);
    w.workbench.session.undoStack().undo();
    w.workbench.session.edit("proven", [](Job& job) {
        job.proof.emplace_back();
        job.proof.back().state = ProofState::passed;
    });
    w.window.go(MainWindow::ShelfStation);
    find_tabs(w.window, "shelf tabs").setCurrentWidget(&find_page<OwnHitsPanel>(w.window));
    REQUIRE(eventually([&] { return find_page<OwnHitsPanel>(w.window).says().contains("100 % of 1 job"); }));
    CHECK(find_page<OwnHitsPanel>(w.window).says().contains("Too few"));
}
