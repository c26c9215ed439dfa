// SPDX-License-Identifier: GPL-3.0-or-later
// The list of what to do next: every line of an act can be read, however little room there is.
#include "app/screens/bench/next_acts_view.h"

#include <QSignalSpy>

#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("acts keep the height that they need when a scroll bar makes them narrower", "[app][next]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    NextActsView view;
    view.show(w.workbench.diagnosis.answer());
    static_cast<QWidget&>(view).show();
    REQUIRE(view.acts().rowCount() > 1);
    const auto rows_touch = [&] {
        for (int row = 1; row < view.acts().rowCount(); ++row) {
            const QRect above = view.visualRect(view.acts().index(row - 1));
            if (view.visualRect(view.acts().index(row)).top() != above.top() + above.height())
                return false;
        }
        return true;
    };
    // At widths at which titles take one line more or less: room for all rows, then less and a scroll bar.
    for (int width = 420; width > 180; width -= 6) {
        INFO(width << " wide");
        view.resize(width, 900);
        view.show(w.workbench.diagnosis.answer());
        QCoreApplication::processEvents();
        CHECK(rows_touch());
        view.resize(width, 120);
        QCoreApplication::processEvents();
        CHECK(rows_touch());
        view.show(w.workbench.diagnosis.answer());
        QCoreApplication::processEvents();
        CHECK(rows_touch());
    }
}

TEST_CASE("a net that no probe gets at is proposed no more, until it is asked for again", "[app][next]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    auto& page = find_page<BenchPage>(w.window);
    NextActsView& view = page.nextActs();
    const auto row_of = [&](const std::string& net) {
        for (int row = 0; row < view.acts().rowCount(); ++row) {
            if (view.netOf(row) == net)
                return row;
        }
        return -1;
    };
    const auto first_net = [&] {
        for (int row = 0; row < view.acts().rowCount(); ++row) {
            if (!view.netOf(row).empty())
                return view.netOf(row);
        }
        return std::string();
    };
    const std::string net = first_net();
    REQUIRE_FALSE(net.empty());
    auto* again = page.findChild<QToolButton*>("out_of_reach");
    REQUIRE(again != nullptr);
    CHECK_FALSE(again->isVisibleTo(&page));

    view.setFocus();
    view.setCurrentIndex(view.acts().index(row_of(net)));
    QTest::keyClick(&view, Qt::Key_Delete);
    w.settle();
    CHECK(w.workbench.session.job().out_of_reach == std::vector<std::string>{net});
    CHECK(row_of(net) < 0);
    CHECK(again->isVisibleTo(&page));

    again->click();
    w.settle();
    CHECK(w.workbench.session.job().out_of_reach.empty());
    CHECK(row_of(net) >= 0);
    CHECK_FALSE(again->isVisibleTo(&page));
    w.workbench.session.undoStack().undo();
    w.settle();
    CHECK(w.workbench.session.job().out_of_reach == std::vector<std::string>{net});
}

TEST_CASE("work that is tried is noted as work, and undo takes it back", "[app][next]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    auto& page = find_page<BenchPage>(w.window);
    QSignalSpy said(&page, &BenchPage::said);
    NextAct act;
    act.configuration = w.job().bench;
    note_work(act.configuration, "bat", Work::reseat);
    act.work_first = {{"bat", Work::reseat}};
    emit page.nextActs().picked(act);
    REQUIRE(w.job().acts.size() == 1);
    CHECK(w.job().acts.front().block == "bat");
    CHECK(w.job().acts.front().kind == Work::reseat);
    CHECK(w.job().bench.handled == act.work_first);
    CHECK(w.job().bench.replaced.empty());
    CHECK(said.count() == 1);
    w.workbench.session.undoStack().undo();
    CHECK(w.job().acts.empty());
    CHECK(w.job().bench.handled.empty());
}

TEST_CASE("the first act says why it stands first", "[app][next]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    const NextActsModel& acts = find_page<BenchPage>(w.window).nextActs().acts();
    REQUIRE(acts.rowCount() > 1);
    const QStringList lines = acts.index(0).data(NextActsModel::TellsRole).toStringList();
    REQUIRE_FALSE(lines.empty());
    CHECK(lines.front().startsWith(acts.act(0)->repair ? "The repair is due" : "It te"));
    CHECK(acts.index(1).data(Qt::ToolTipRole).toString().isEmpty());
}
