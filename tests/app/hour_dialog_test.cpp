// SPDX-License-Identifier: GPL-3.0-or-later
// The plan of the next hour and the question to the customer, in the window.
#include "app/screens/bench/hour_dialog.h"

#include <QAbstractButton>
#include <QClipboard>
#include <QGuiApplication>
#include <QLabel>
#include <QTreeWidget>

#include "app/screens/bench/question_bar.h"
#include "app/screens/intake/intake_page.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

QAbstractButton* hour_button(QWidget& in, const QString& words) {
    for (auto* button : in.findChildren<QAbstractButton*>()) {
        if (button->text().contains(words))
            return button;
    }
    return nullptr;
}

void open_unread_job(Window& w) {
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.workbench.session.edit("as it came in", [](Job& job) {
        job.readings.resize(1);
        job.ticket.facts.clear();
    });
    w.settle();
}

}  // namespace

TEST_CASE("the plan of the hour stands one click from what is next, and begins with it", "[app][hour]") {
    Window w;
    open_unread_job(w);
    auto& bench = find_page<BenchPage>(w.window);
    hour_button(bench, "&hour")->click();
    auto* dialog = w.window.findChild<HourDialog*>();
    REQUIRE(dialog != nullptr);
    auto* tree = dialog->findChild<QTreeWidget*>();
    REQUIRE(eventually([&] { return tree->topLevelItemCount() == 1; }, 240000));
    // The window is not held up meanwhile, and the first act is the one that stands first beside it.
    const QString first = tree->topLevelItem(0)->text(0);
    const auto& acts = bench.nextActs().acts();
    CHECK(first == acts.data(acts.index(0), Qt::DisplayRole).toString());
    CHECK(tree->topLevelItem(0)->childCount() > 0);
    hour_button(*dialog, "Copy")->click();
    const QString copied = QGuiApplication::clipboard()->text();
    CHECK(copied.startsWith(first));
    CHECK(copied == dialog->text());
    CHECK(copied.count('\n') > 2);
    const NextAct act = *acts.act(0);
    hour_button(*dialog, "Begin")->click();
    CHECK_FALSE(dialog->isVisible());
    BenchConfiguration set = act.configuration;
    set.injection.reset();
    CHECK(w.job().bench == set);
    // The old plan is gone at once, and nothing begins before the new one stands.
    dialog->present();
    CHECK(tree->topLevelItemCount() == 0);
    CHECK_FALSE(hour_button(*dialog, "Begin")->isEnabled());
    dialog->reject();
}

TEST_CASE("the customer's answer enters the job, is weighed, shown at intake and undone", "[app][hour]") {
    Window w;
    open_unread_job(w);
    auto& bench = find_page<BenchPage>(w.window);
    auto* question = bench.findChild<QuestionBar*>();
    REQUIRE(question != nullptr);
    const auto asked = [&] { return w.workbench.diagnosis.answer().next.question; };
    REQUIRE(eventually([&] { return asked().has_value(); }));
    const std::string fact = asked()->fact;
    CHECK_THAT(question->findChild<QLabel*>()->text().toStdString(), Catch::Contains(asked()->words));
    const Job before = w.job();
    const Ranking believed = w.workbench.diagnosis.answer().ranking;
    hour_button(*question, "N&o")->click();
    CHECK(w.job().ticket.facts_denied == std::vector<std::string>{fact});
    w.settle();
    CHECK(w.workbench.diagnosis.answer().ranking.parts.front().probability !=
          believed.parts.front().probability);
    CHECK((!asked() || asked()->fact != fact));
    CHECK(hour_button(find_page<IntakePage>(w.window), "asked: no") != nullptr);
    w.workbench.session.undoStack().undo();
    CHECK(w.job() == before);
    w.settle();
    REQUIRE(asked());
    CHECK(asked()->fact == fact);
    hour_button(*question, "?")->click();
    CHECK(w.job().ticket.facts_unknown == std::vector<std::string>{fact});
}
