// SPDX-License-Identifier: GPL-3.0-or-later
// The pages by themselves: intake facts, cautions of the repair, the proof of a cool part, what the acts say.
#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QTableView>
#include <fstream>

#include "app/screens/bench/bench_page.h"
#include "app/screens/bench/next_acts_view.h"
#include "app/screens/handover/handover_page.h"
#include "app/screens/intake/intake_page.h"
#include "app/screens/proof/proof_page.h"
#include "app/screens/rates/shop_rates_dialog.h"
#include "app/screens/repair/repair_page.h"
#include "core/job/job_json.h"
#include "tests/app/app_fixture.h"
#include "tests/support/seen.h"

using namespace eh;
using namespace eh::test;

namespace {

constexpr const char* example = EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json";

std::string caution_of(const QWidget& page) {
    std::string text;
    for (const QLabel* label : page.findChildren<QLabel*>()) {
        if (label->property("role") == "caution")
            text += label->text().toStdString();
    }
    return text;
}

}  // namespace

TEST_CASE("a fact ticked at intake enters the job, is undone, and changes what is likely", "[app][pages]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    w.settle();
    const auto before = w.job().ticket.facts;
    auto& intake = find_page<IntakePage>(w.window);
    auto boxes = intake.findChildren<QCheckBox*>();
    boxes.removeOne(&intake.notSeen());  // waits for inlets
    REQUIRE(static_cast<std::size_t>(boxes.size()) == shipped_knowledge().catalogue.facts.size() + 1);
    for (QCheckBox* box : boxes) {
        const Job held = w.job();
        box->click();
        CHECK(w.job() != held);
        box->click();
        CHECK(w.job() == held);
    }
    CHECK(w.job().ticket.facts == before);
}

TEST_CASE("where a fact holds is chosen beside it, undone, and asked only of facts that may be local",
          "[app][pages]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    w.settle();
    auto& intake = find_page<IntakePage>(w.window);
    w.workbench.session.edit("no facts", [](Job& job) {
        for (const IntakeFact& fact : shipped_knowledge().catalogue.facts)
            forget_fact(job.ticket, fact.id);
    });
    auto* liquid = intake.findChild<FactBox*>("fact-liquid");
    REQUIRE(liquid != nullptr);
    auto* where = liquid->findChild<QToolButton*>();
    CHECK(where->isHidden());
    liquid->findChild<QCheckBox*>()->click();
    CHECK_FALSE(where->isHidden());
    const auto& ports = shipped_knowledge().find_topology(w.job().ticket.topology)->ports;
    REQUIRE(where->menu()->actions().size() == static_cast<qsizetype>(ports.size()) + 1);
    where->menu()->actions().front()->trigger();
    CHECK(w.job().ticket.fact_places.at("liquid") == std::vector<std::string>{ports.front().id});
    CHECK(where->text().toStdString() == ports.front().title);
    w.press(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.job().ticket.fact_places.empty());
    // Long storage is nowhere in particular.
    auto* storage = intake.findChild<FactBox*>("fact-long_storage");
    storage->findChild<QCheckBox*>()->click();
    CHECK(storage->findChild<QToolButton*>()->isHidden());
}

TEST_CASE("the cautions of a work stand beside it", "[app][pages]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    RepairPage& page = find_page<RepairPage>(w.window);
    w.workbench.session.edit("battery", [](Job& job) { job.bench.battery_in = true; });
    page.propose("rec1", Work::replace);
    CHECK_THAT(caution_of(page), Catch::Contains("battery is in"));
    CHECK_THAT(caution_of(page), Catch::Contains("bismuth"));
    CHECK_THAT(caution_of(page), Catch::Contains("entilate"));
    w.workbench.session.edit("battery", [](Job& job) { job.bench.battery_in = false; });
    CHECK_THAT(caution_of(page), !Catch::Contains("battery is in"));
    page.propose("rec1", Work::clean);
    CHECK_THAT(caution_of(page), Catch::Contains("Alcohol"));
    CHECK_THAT(caution_of(page), !Catch::Contains("bismuth"));
    page.propose("mem", Work::reset);
    CHECK_THAT(caution_of(page), Catch::Contains("wipe data"));
    // Whatever the work, local rules come first.
    for (const Work remedy : {Work::replace, Work::clean, Work::reset, Work::reseat, Work::other}) {
        page.propose("rec1", remedy);
        CHECK_THAT(caution_of(page), Catch::Contains("licensed practice"));
    }
}

TEST_CASE("a part is proven cool by the kelvin that were measured, whichever key is pressed",
          "[app][pages]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    find_page<RepairPage>(w.window).propose("sp2", Work::replace);
    REQUIRE(find_page<RepairPage>(w.window).record());
    w.window.go(MainWindow::ProofStation);
    ProofPage& page = find_page<ProofPage>(w.window);
    page.makePlan();
    const auto& steps = w.job().proof;
    const auto hot = std::find_if(steps.begin(), steps.end(), [](const ProofStep& step) {
        return step.kind == ReadingKind::hot_part && step.place == "sp2";
    });
    REQUIRE(hot != steps.end());
    const auto row = static_cast<std::size_t>(hot - steps.begin());
    page.table().selectRow(static_cast<int>(row));
    CHECK(page.rise().isVisible());
    page.setBenchUp();
    const std::size_t readings = w.job().readings.size();
    for (const bool good : {true, false}) {
        page.decide(good);
        CHECK(w.job().proof[row].state == ProofState::open);
        CHECK(w.job().readings.size() == readings);
    }
    page.rise().setText("forty");
    page.decide(true);
    CHECK(w.job().readings.size() == readings);
    page.rise().setText("41");
    page.decide(true);
    CHECK(w.job().proof[row].state == ProofState::failed);
    CHECK(number_of(w.job().readings.back()).value() == Approx(41.0));
    page.table().selectRow(static_cast<int>(row));
    page.rise().setText("6,5 K");
    page.decide(true);
    CHECK(w.job().proof[row].state == ProofState::passed);
    CHECK(number_of(w.job().readings.back()).value() == Approx(6.5));
    page.table().selectRow(0);
    CHECK_FALSE(page.rise().isVisible());
}

TEST_CASE("an act says its minutes and what each outcome would mean", "[app][pages]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    w.window.go(MainWindow::BenchStation);
    w.settle();
    REQUIRE(eventually([&] { return w.workbench.diagnosis.answer().next_complete; }));
    const NextActsModel& acts = find_page<BenchPage>(w.window).nextActs().acts();
    REQUIRE(acts.rowCount() >= 1);
    for (int row = 0; row < acts.rowCount(); ++row) {
        const QModelIndex index = acts.index(row, 0);
        CHECK_FALSE(index.data(Qt::DisplayRole).toString().isEmpty());
        CHECK_THAT(index.data(NextActsModel::MinutesRole).toString().toStdString(), Catch::Contains("min"));
        const NextAct* act = acts.act(row);
        REQUIRE(act != nullptr);
        if (act->repair)
            continue;
        double total = 0.0;
        for (const Telling& telling : act->tells)
            total += telling.probability;
        // The most probable outcomes are told, not all.
        CHECK(total > 0.5);
        CHECK(total <= Approx(1.0));
        CHECK(act->bits > 0.0);
    }
    CHECK(acts.act(acts.rowCount()) == nullptr);
    CHECK(acts.act(-1) == nullptr);
}

TEST_CASE("the sheet is written as HTML and as a job file that opens again", "[app][pages]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    w.workbench.session.edit("words", [](Job& job) {
        job.handover.found = "The protector of the left port was shorted.";
        job.handover.price = 89.5;
    });
    const QString html = w.folder.filePath("sheet.html");
    REQUIRE(find_page<HandoverPage>(w.window).write(HandoverPage::Format::html, html).ok());
    std::ifstream file(html.toStdString());
    const std::string text{std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()};
    CHECK_THAT(text, Catch::Contains("protector of the left port"));
    CHECK_THAT(text, Catch::Contains("89.50"));
    CHECK_THAT(find_page<HandoverPage>(w.window).preview().toPlainText().toStdString(),
               Catch::Contains("protector of the left port"));
    const QString job_file = w.folder.filePath("job.hound.json");
    REQUIRE(find_page<HandoverPage>(w.window).write(HandoverPage::Format::json, job_file).ok());
    std::ifstream written(job_file.toStdString());
    const std::string document{std::istreambuf_iterator<char>(written), std::istreambuf_iterator<char>()};
    const auto read = parse_job(document, "job");
    REQUIRE(read.ok());
    CHECK(*read == w.job());
    const auto refusal = find_page<HandoverPage>(w.window).write(HandoverPage::Format::html,
                                                                 w.folder.filePath("no/such/folder/x.html"));
    REQUIRE_FALSE(refusal.ok());
    CHECK_THAT(refusal.error().text(), Catch::Contains("another folder"));
}

TEST_CASE("findings are kept apart from the customer's claim", "[app][pages]") {
    Window w;
    REQUIRE(w.import_job(example).ok());
    const std::string claim = w.job().ticket.claim;
    w.window.go(MainWindow::RepairStation);
    for (QLineEdit* field : find_page<RepairPage>(w.window).findChildren<QLineEdit*>()) {
        if (field->accessibleName() == "Finding") {
            field->setFocus();
            w.type("dust under the left port");
            w.press(Qt::Key_Return);
            w.press(Qt::Key_Return);
        }
    }
    REQUIRE(w.job().findings.size() == 1);
    CHECK(w.job().findings.front().text == "dust under the left port");
    CHECK(w.job().ticket.claim == claim);
}

TEST_CASE("the shop's own repairs stand beside the shipped rates, and count only while they may",
          "[app][pages]") {
    ShopRatesDialog dialog(shipped_knowledge());
    Job job;
    job.ticket.topology = chained;
    job.acts.push_back({"a1", Work::replace, "sp1", "", 20.0, 0.0, "", 0, "", ""});
    ProofStep step;
    step.state = ProofState::passed;
    job.proof.push_back(step);
    const std::vector<Job> jobs(40, job);
    const ShopRates rates = count_repairs(shipped_knowledge(), repairs_of(jobs));
    dialog.show(rates, true);
    const auto* model = dialog.findChild<QTableView*>()->model();
    REQUIRE(model->rowCount() == static_cast<int>(rates.repairs.size()));
    const auto text = [&](int row, int column) { return model->index(row, column).data().toString(); };
    int found = 0;
    for (int row = 0; row < model->rowCount(); ++row) {
        if (text(row, ShopRatesModel::DoneColumn) == "40") {
            CHECK(text(row, ShopRatesModel::WorkColumn) == "Replace");
            ++found;
        }
    }
    CHECK(found == 1);
    bool used = true;
    QObject::connect(&dialog, &ShopRatesDialog::useChanged, [&](bool use) { used = use; });
    dialog.findChild<QCheckBox*>()->click();
    CHECK_FALSE(used);

    Window w;
    REQUIRE(w.import_job(example).ok());
    w.settle();
    const double shipped = w.suspicion("sp2");
    w.workbench.diagnosis.setShopRates(rates);
    w.workbench.diagnosis.ask(w.job());
    w.settle();
    CHECK(w.suspicion("sp2") > shipped);
    const auto& leading = w.workbench.diagnosis.answer();
    CHECK(leading.rate_factors.at("protector_shorted") > 2.0);
}

TEST_CASE("an act says that it tests the suspect, or that it was taken and fitted nothing", "[bench]") {
    Answer answer;
    answer.engine = std::make_shared<Engine>(shipped_knowledge(), topology(chained));
    NextAct plain;
    plain.reading = ReadingKind::net_ohms;
    plain.place = "pden";
    NextAct trial = plain;
    trial.on_trial = true;
    NextAct again = plain;
    again.again = true;
    answer.next.acts = {plain, trial, again};
    NextActsModel model;
    model.show(answer);
    const auto said = [&](int row) {
        return model.index(row).data(NextActsModel::TellsRole).toStringList().join(' ').toStdString();
    };
    CHECK_THAT(said(0), Catch::Contains("tells most"));  // what stands first says why
    CHECK_THAT(said(1), Catch::Contains("before the repair"));
    CHECK_THAT(said(2), Catch::Contains("once more"));
}
