// SPDX-License-Identifier: GPL-3.0-or-later
// The window's ways: keyboard, undo, names for screen readers, refusals at the field, nothing lost.
#include <QAbstractButton>
#include <QAbstractItemModelTester>
#include <QAccessible>
#include <QAction>
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QPlainTextEdit>
#include <QProcess>
#include <QPushButton>
#include <QRegularExpression>
#include <QScreen>
#include <QSignalSpy>
#include <QTabWidget>
#include <set>

#include "app/models/acts_model.h"
#include "app/screens/bench/bench_page.h"
#include "app/screens/board/board_page.h"
#include "app/screens/handover/handover_page.h"
#include "app/screens/intake/intake_page.h"
#include "app/screens/proof/proof_page.h"
#include "app/screens/repair/repair_page.h"
#include "app/screens/shelf/shelf_page.h"
#include "app/widgets/bench_strip.h"
#include "app/widgets/working_style_menu.h"
#include "core/job/job_json.h"
#include "tests/app/app_fixture.h"
#include "tests/support/seen.h"

using namespace eh;
using namespace eh::test;

namespace {
JobSummary summary(const std::string& id) {
    JobSummary job;
    job.id = id;
    return job;
}
}  // namespace

TEST_CASE("inks are readable on their grounds: WCAG AA", "[app][theme]") {
    // WCAG 2.1: 4.5 to 1 for text. Known pair from the same document: black on white is 21 to 1.
    CHECK(theme::contrast(Qt::black, Qt::white) == Approx(21.0));
    CHECK(theme::contrast(QColor("#777777"), Qt::white) == Approx(4.48).epsilon(0.01));
    const auto& c = theme::colours();
    const std::vector<std::pair<QColor, QColor>> pairs{{c.ink, c.paper},
                                                       {c.ink, c.surface},
                                                       {c.soft_ink, c.paper},
                                                       {c.soft_ink, c.surface},
                                                       {c.ink, c.warning_wash},
                                                       {c.ink, c.accent_wash},
                                                       {c.ink, c.suspicion_wash},
                                                       {c.suspicion, c.surface},
                                                       {c.suspicion, c.suspicion_wash},
                                                       {c.suspicion, c.accent_wash},
                                                       {c.suspicion, c.paper},
                                                       {c.accent_ink, c.accent},
                                                       {c.accent_ink, c.suspicion},
                                                       {c.band_ink, c.band},
                                                       {c.good, c.surface},
                                                       {c.good, c.paper},
                                                       {c.bad, c.paper},
                                                       {c.bad, c.surface},
                                                       {c.volts, c.surface},
                                                       {c.amps, c.surface},
                                                       {c.ink, c.good_wash},
                                                       {c.soft_ink, c.accent_wash}};
    for (const auto& [ink, ground] : pairs) {
        CAPTURE(ink.name().toStdString(), ground.name().toStdString());
        CHECK(theme::contrast(ink, ground) >= 4.5);
    }
}

TEST_CASE("from new ticket to the first suspects in at most twelve key presses", "[app]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    REQUIRE(w.window.station() == MainWindow::IntakeStation);
    // Only the kind of machine is mandatory; the list has the keyboard and a choice already.
    w.press(Qt::Key_Return);
    REQUIRE(w.window.station() == MainWindow::BenchStation);
    CHECK(w.job().ticket.topology == chained);
    w.press(Qt::Key_Slash);
    w.type("p2 dark");
    w.press(Qt::Key_Return);
    CHECK(w.keys <= 12);
    REQUIRE(w.job().readings.size() == 1);
    CHECK(meter_of(w.job().readings.front()).pattern == MeterPattern::dark);
    REQUIRE(
        eventually([&] { return find_page<BenchPage>(w.window).suspects().model()->rowCount() > 3; }, 60000));
    REQUIRE(
        eventually([&] { return find_page<BenchPage>(w.window).nextActs().model()->rowCount() > 0; }, 60000));
}

TEST_CASE("every edit can be undone and redone, and what is undone is so on disk", "[app]") {
    Window w;
    w.window.newTicket();
    w.press(Qt::Key_Down);
    w.press(Qt::Key_Return);
    const Job start = w.job();
    w.quick("p1 5.1 0.2");
    w.press(Qt::Key_B);  // battery out
    w.press(Qt::Key_T);  // plug turned
    const Job end = w.job();
    CHECK(end.readings.size() == 1);
    CHECK_FALSE(end.bench.battery_in);
    CHECK(end.bench.side == PlugSide::b);
    while (w.job() != start) {
        REQUIRE(w.workbench.session.undoStack().canUndo());
        w.press(Qt::Key_Z, Qt::ControlModifier);
    }
    CHECK(w.stored(start.id) == start);
    while (w.workbench.session.undoStack().canRedo())
        w.workbench.session.undoStack().redo();
    CHECK(w.job() == end);
    CHECK(w.stored(start.id) == end);
}

TEST_CASE("typing in one field is one undo step", "[app]") {
    Window w;
    w.window.newTicket();
    QLineEdit* machine = nullptr;
    for (auto* label : find_page<IntakePage>(w.window).findChildren<QLabel*>()) {
        if (label->text() == "Mac&hine")
            machine = qobject_cast<QLineEdit*>(label->buddy());
    }
    REQUIRE(machine != nullptr);
    machine->setFocus();
    w.type("Heron");
    CHECK(w.job().ticket.machine == "Heron");
    const int steps = w.workbench.session.undoStack().count();
    w.type(" 13");
    CHECK(w.workbench.session.undoStack().count() == steps);
    w.workbench.session.undoStack().undo();
    CHECK(w.job().ticket.machine.empty());
}

TEST_CASE("an amount with a comma is understood, letters are refused at the field", "[app]") {
    Window w;
    w.window.newTicket();
    find_page<IntakePage>(w.window).priceLimit().setFocus();
    w.type("89,50");
    CHECK(*w.job().ticket.price_limit == Approx(89.5));
    CHECK(find_page<IntakePage>(w.window).moneyProblem().isEmpty());
    find_page<IntakePage>(w.window).priceLimit().clear();
    w.type("abc");
    CHECK_THAT(find_page<IntakePage>(w.window).moneyProblem().toStdString(), Catch::Contains("abc"));
    CHECK(*w.job().ticket.price_limit == Approx(89.5));
}

TEST_CASE("what the quick line refuses is said beside it and nothing is taken", "[app]") {
    Window w;
    w.window.newTicket();
    w.press(Qt::Key_Down);
    w.press(Qt::Key_Return);
    for (const char* line : {"abc", "main -3r", "main 1e9v", "p1 3r3"}) {
        w.press(Qt::Key_Slash);
        w.type(line);
        w.press(Qt::Key_Return);
        CAPTURE(line, find_page<BenchPage>(w.window).quickLine().echo().toStdString());
        CHECK(find_page<BenchPage>(w.window).quickLine().echo().startsWith(QStringLiteral("✗")));
        CHECK(w.job().readings.empty());
        w.press(Qt::Key_Escape);
    }
}

TEST_CASE("ohms typed while the battery is in turn the strip into a warning", "[app]") {
    Window w;
    w.window.newTicket();
    w.press(Qt::Key_Down);
    w.press(Qt::Key_Return);
    CHECK(find_page<BenchStrip>(w.window).warning().isEmpty());
    w.press(Qt::Key_Slash);
    w.type("main 3r3");
    CHECK_THAT(find_page<BenchStrip>(w.window).warning().toStdString(), Catch::Contains("charger"));
    w.press(Qt::Key_Escape);
    w.press(Qt::Key_K);
    w.press(Qt::Key_Slash);
    w.type("main 3r3");
    CHECK_THAT(find_page<BenchStrip>(w.window).warning().toStdString(), Catch::Contains("battery"));
}

TEST_CASE("a next act puts the bench strip into the state it needs", "[app]") {
    Window w;
    w.window.newTicket();
    w.press(Qt::Key_Down);
    w.press(Qt::Key_Return);
    NextAct act;
    act.reading = ReadingKind::net_ohms;
    act.place = "vbus2";
    act.configuration = for_ohms();
    find_page<BenchPage>(w.window).begin(act);
    CHECK_FALSE(w.job().bench.battery_in);
    CHECK_FALSE(w.job().bench.charger_connected);
    CHECK(w.job().bench.case_open);
    CHECK(find_page<BenchPage>(w.window).quickLine().field().text().startsWith("vbus p2"));
    w.type("3r3");
    w.press(Qt::Key_Return);
    REQUIRE(w.job().readings.size() == 1);
    CHECK(w.job().readings.front().place() == "vbus2");
}

TEST_CASE("no two commands share a key", "[app]") {
    Window w;
    std::set<QString> seen;
    for (const QAction* action : w.window.findChildren<QAction*>()) {
        if (action->shortcutContext() != Qt::WindowShortcut)
            continue;
        for (const QKeySequence& key : action->shortcuts()) {
            CAPTURE(key.toString().toStdString(), action->text().toStdString());
            CHECK(seen.insert(key.toString()).second);
        }
    }
    CHECK(seen.size() > 20);
}

TEST_CASE("everything that takes the keyboard has a name for screen readers", "[app]") {
    Window w;
    w.window.newTicket();
    for (QWidget* widget : w.window.findChildren<QWidget*>()) {
        if (widget->focusPolicy() == Qt::NoFocus || widget->objectName().startsWith("qt_"))
            continue;
        const bool field = qobject_cast<QLineEdit*>(widget) != nullptr ||
                           qobject_cast<QPlainTextEdit*>(widget) != nullptr ||
                           qobject_cast<QComboBox*>(widget) != nullptr ||
                           qobject_cast<QAbstractItemView*>(widget) != nullptr;
        if (!field)
            continue;
        // A combo box's own list speaks through the combo box.
        if (widget->parentWidget() != nullptr &&
            widget->parentWidget()->inherits("QComboBoxPrivateContainer"))
            continue;
        QAccessibleInterface* interface = QAccessible::queryAccessibleInterface(widget);
        REQUIRE(interface != nullptr);
        CAPTURE(widget->metaObject()->className(), widget->parentWidget()->metaObject()->className());
        CHECK_FALSE(interface->text(QAccessible::Name).isEmpty());
    }
}

TEST_CASE("a label that names a key belongs to a field", "[app]") {
    Window w;
    const QRegularExpression key("&[^&\\s]");
    int named = 0;
    for (const QLabel* label : w.window.findChildren<QLabel*>()) {
        if (Qt::mightBeRichText(label->text()) || !label->text().contains(key))
            continue;
        // Without its field the sign itself would stand in the label.
        INFO(label->text().toStdString());
        CHECK(label->buddy() != nullptr);
        ++named;
    }
    CHECK(named > 15);
}

TEST_CASE("a part that is hardly suspected can be asked about: why not", "[app]") {
    Answer answer;
    answer.engine = std::make_shared<Engine>(shipped_knowledge(), topology(barrel));
    answer.readings = {meter_reading("r1", plugged("p1"), MeterPattern::steady, 19.4, 2.4)};
    Suspects suspected = answer.engine->reasoner.weigh({}, answer.readings).value();
    answer.table = suspected.table;
    answer.ranking = std::move(suspected.ranking);
    SuspectsModel suspects;
    suspects.show(answer);
    REQUIRE_FALSE(suspects.indexOfBlock("sp1").isValid());
    const int before = suspects.rowCount();
    REQUIRE(suspects.include(answer, "sp1"));
    CHECK(suspects.rowCount() == before + 1);
    const QModelIndex part = suspects.indexOfBlock("sp1");
    REQUIRE(part.isValid());
    REQUIRE(suspects.rowCount(part) == 2);
    const QModelIndex reading = suspects.index(1, 0, part);
    // Amps hang on the make of the machine, so that they speak against a part, but not by hundreds to one.
    CHECK(reading.data(SuspectsModel::WeightRole).toDouble() < -1.0);
    CHECK(reading.data(SuspectsModel::DetailRole).toString().contains("against"));
    // Asked again it is not added again; a part that nothing befalls is not added at all.
    CHECK(suspects.include(answer, "sp1"));
    CHECK(suspects.rowCount() == before + 1);
    CHECK_FALSE(suspects.include(answer, "no such part"));
}

TEST_CASE("the working style is remembered", "[app]") {
    Preferences preferences;
    const NextOptions before = preferences.nextOptions();
    WorkingStyleMenu menu(before);
    NextOptions told;
    QObject::connect(&menu, &WorkingStyleMenu::changed, [&](const NextOptions& options) { told = options; });
    const auto trigger = [&](const QString& text) {
        for (QAction* action : menu.actions()) {
            if (action->text().startsWith(text)) {
                action->trigger();
                return true;
            }
        }
        return false;
    };
    REQUIRE(trigger("Heat first"));
    CHECK(told.school == School::thermal_first);
    REQUIRE(trigger("Bench supply"));
    CHECK(std::find(told.instruments.begin(), told.instruments.end(), ReadingKind::injection) ==
          told.instruments.end());
    REQUIRE(trigger("Reflow it first"));
    CHECK(told.reflow_first);
    REQUIRE(trigger("A second meter"));
    CHECK_FALSE(told.second_instruments);
    preferences.setNextOptions(told);
    CHECK(Preferences().nextOptions().reflow_first);
    CHECK_FALSE(Preferences().nextOptions().second_instruments);
    CHECK(Preferences().nextOptions().school == School::thermal_first);
    CHECK(Preferences().nextOptions().instruments.size() == told.instruments.size());
    preferences.setNextOptions(before);
}

TEST_CASE("item models keep Qt's rules", "[app]") {
    Answer answer;
    answer.engine = std::make_shared<Engine>(shipped_knowledge(), topology(barrel));
    answer.readings = {meter_reading("r1", plugged("p1"), MeterPattern::steady, 19.4, 0.7)};
    Suspects suspected = answer.engine->reasoner.weigh({}, answer.readings).value();
    answer.table = suspected.table;
    answer.ranking = std::move(suspected.ranking);
    answer.next = next_acts(*answer.table, answer.ranking, answer.readings, plugged("p1"), shipped_costs());
    SuspectsModel suspects;
    QAbstractItemModelTester suspects_tester(&suspects,
                                             QAbstractItemModelTester::FailureReportingMode::Fatal);
    suspects.show(answer);
    CHECK(suspects.rowCount() > 2);
    CHECK(suspects.rowCount(suspects.index(0, 0)) == 2);  // the rate and one reading
    NextActsModel acts;
    QAbstractItemModelTester acts_tester(&acts, QAbstractItemModelTester::FailureReportingMode::Fatal);
    acts.show(answer);
    CHECK(acts.rowCount() > 0);
    ShelfModel shelf;
    QAbstractItemModelTester shelf_tester(&shelf, QAbstractItemModelTester::FailureReportingMode::Fatal);
    shelf.show({summary("a"), summary("b")}, 0);
    CHECK(shelf.rowCount() == 2);
    Job job;
    job.ticket.topology = barrel;
    job.acts.emplace_back();
    job.acts.back().block = "jack";
    job.proof.emplace_back();
    ActsModel done;
    QAbstractItemModelTester done_tester(&done, QAbstractItemModelTester::FailureReportingMode::Fatal);
    done.show(job.acts, &topology(barrel), shipped_knowledge().catalogue);
    CHECK(done.data(done.index(0, ActsModel::PartColumn), Qt::DisplayRole).toString() == "Barrel jack");
    ProofModel proof;
    QAbstractItemModelTester proof_tester(&proof, QAbstractItemModelTester::FailureReportingMode::Fatal);
    proof.show(job, &topology(barrel));
    CHECK(proof.rowCount() == 1);
}

TEST_CASE("a job file dropped in or imported opens, a broken one is said and changes nothing", "[app]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    CHECK(w.job().id == "example-1");
    const QString broken = w.folder.filePath("broken.hound.json");
    QFile file(broken);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write("{\"format\": \"eager-hound.job/1\",");
    file.close();
    const Outcome outcome = w.import_job(broken);
    REQUIRE_FALSE(outcome.ok());
    CHECK_THAT(outcome.error().text(), Catch::Contains("cut off"));
    CHECK(w.job().id == "example-1");
}

TEST_CASE("a job exported and imported is the same job", "[app]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/adapter-not-known.hound.json").ok());
    const Job before = w.job();
    const QString file = w.folder.filePath("out.hound.json");
    REQUIRE(find_page<HandoverPage>(w.window).write(HandoverPage::Format::json, file).ok());
    REQUIRE(w.import_job(file).ok());
    CHECK(w.job() == before);
}

TEST_CASE("closing without proof asks for the reason that prints on the sheet", "[app]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/adapter-not-known.hound.json").ok());
    w.window.go(MainWindow::HandoverStation);
    QPushButton* close = nullptr;
    for (auto* button : find_page<HandoverPage>(w.window).findChildren<QPushButton*>()) {
        if (button->text().startsWith("Hand over"))
            close = button;
    }
    REQUIRE(close != nullptr);
    close->click();
    CHECK(w.job().stage != JobStage::closed);
    w.type("Customer was in a hurry");
    CHECK(w.job().handover.unproven_reason == "Customer was in a hurry");
    CHECK(find_page<HandoverPage>(w.window).preview().toPlainText().contains("Customer was in a hurry"));
    close->click();
    CHECK(w.job().stage == JobStage::closed);
}

TEST_CASE("a job that is opened again shows its suspects again", "[app]") {
    Window w;
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    w.settle();
    const std::string id = w.job().id;
    auto& suspects = find_page<BenchPage>(w.window).suspects();
    REQUIRE(eventually([&] { return suspects.suspects().rowCount() > 0; }));
    w.open_job(id);
    w.window.go(MainWindow::BenchStation);
    CHECK(eventually([&] { return suspects.suspects().rowCount() > 0; }, 60000));
}
