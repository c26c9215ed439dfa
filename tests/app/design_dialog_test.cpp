// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of a machine's design, in the window: shown, fixed, taught to the next of its name.
#include "app/screens/bench/design_dialog.h"

#include <QAbstractButton>
#include <QCheckBox>
#include <QLabel>
#include <QTableView>

#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

const QString shorted_job = QStringLiteral(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json");

QAbstractButton* button_with(QWidget& in, const QString& words) {
    for (auto* button : in.findChildren<QAbstractButton*>()) {
        if (button->text().contains(words))
            return button;
    }
    return nullptr;
}

DesignDialog* opened_dialog(Window& w) {
    auto* button = button_with(find_page<BenchPage>(w.window), "desi&gn");
    REQUIRE(button != nullptr);
    button->click();
    auto* dialog = w.window.findChild<DesignDialog*>();
    REQUIRE(dialog != nullptr);
    const auto tables = dialog->findChildren<QTableView*>();
    REQUIRE(tables.size() == 2);
    REQUIRE(eventually(
        [&] { return tables[0]->model()->rowCount() > 1 && tables[1]->model()->rowCount() > 1; }, 240000));
    return dialog;
}

}  // namespace

TEST_CASE("what is known of a machine stands one click from its suspects, and its build can be fixed",
          "[app][design]") {
    Window w;
    REQUIRE(w.import_job(shorted_job).ok());
    w.settle();
    DesignDialog* dialog = opened_dialog(w);
    const auto tables = dialog->findChildren<QTableView*>();
    auto* builds = tables[0];
    const auto build = [&](int row) { return builds->model()->index(row, 0).data().toString(); };
    int own = -1;
    for (int row = 0; row < builds->model()->rowCount(); ++row)
        own = build(row).contains("as the ticket says") ? row : own;
    REQUIRE(own >= 0);
    auto* fix = button_with(*dialog, "built like this");
    CHECK_FALSE(fix->isEnabled());
    const std::string before = w.job().ticket.topology;
    builds->selectRow(own == 0 ? 1 : 0);
    REQUIRE(fix->isEnabled());
    fix->click();
    CHECK(w.job().ticket.topology != before);
    w.workbench.session.undoStack().undo();
    CHECK(w.job().ticket.topology == before);
}

TEST_CASE("a proved repair teaches the next machine of its name, and may be told not to", "[app][design]") {
    Window w;
    REQUIRE(w.import_job(shorted_job).ok());
    w.settle();
    CHECK_FALSE(w.job().lesson);
    w.workbench.session.edit("proved", [](Job& job) {
        job.ticket.machine = "Demo Book 14";
        Act act;
        act.id = "a-proof";
        act.kind = Work::replace;
        act.block = "sp2";
        job.acts.push_back(act);
        ProofStep step;
        step.id = "p-proof";
        step.state = ProofState::passed;
        job.proof = {step};
    });
    REQUIRE(eventually([&] { return w.job().lesson.has_value(); }, 120000));
    REQUIRE(w.workbench.diagnosis.taught().size() == 1);

    SECTION("it stands in the shop, for the next one of its name") {
        w.wait_for_store();
        CHECK(w.stored(w.job().id.text()).lesson == w.job().lesson);
        Job next = w.job();
        next.id = JobId::from("next-one", "id").value();
        next.lesson.reset();
        next.acts.clear();
        next.proof.clear();
        CHECK(teachers_of(next, w.workbench.diagnosis.taught()).size() == 1);
        w.put(next);
        w.open_job("next-one");
        w.settle();
        CHECK(w.workbench.diagnosis.answer().teachers.size() == 1);
    }
    SECTION("unlike others of its name it teaches nothing") {
        DesignDialog* dialog = opened_dialog(w);
        auto* like = dialog->findChild<QCheckBox*>();
        REQUIRE(like->isEnabled());
        like->click();
        CHECK_FALSE(w.job().ticket.like_its_kind);
        CHECK_FALSE(w.job().lesson);
        CHECK(w.workbench.diagnosis.taught().empty());
        w.workbench.session.undoStack().undo();
        CHECK(eventually([&] { return w.job().lesson.has_value(); }, 120000));
    }
}
