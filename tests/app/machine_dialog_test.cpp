// SPDX-License-Identifier: GPL-3.0-or-later
// A kind of machine described in the window: shown by the model, saved as data, chosen for the job.
#include "app/screens/machine/machine_dialog.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableView>
#include <QTableWidget>

#include "app/screens/intake/intake_page.h"
#include "app/screens/machine/own_machines_dialog.h"
#include "app/services/machine_library.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

// A library over a copy of the shipped knowledge, in a folder of its own.
struct Shelf {
    QTemporaryDir folder;
    Knowledge knowledge = shipped_knowledge();
    MachineLibrary machines{knowledge, folder.filePath("machines").toStdString()};
};

QString value_of(const QTableWidget& table, const QString& what) {
    for (int row = 0; row < table.rowCount(); ++row) {
        if (table.item(row, 0)->text().contains(what))
            return table.item(row, 1)->text();
    }
    return {};
}

double volts_of(const QTableWidget& table, const QString& what) {
    return value_of(table, what).section(' ', 0, 0).toDouble();
}

void type_ohms(MachineDialog& dialog, const QString& net, const QString& ohms) {
    for (int row = 0; row < dialog.ohms().rowCount(); ++row) {
        if (dialog.ohms().item(row, 0)->text() == net)
            dialog.ohms().item(row, 1)->setText(ohms);
    }
}

}  // namespace

TEST_CASE("what a described machine would show follows the fields", "[machine]") {
    Shelf shelf;
    MachineDialog dialog(shelf.machines);
    dialog.startFrom(chained);
    CHECK(volts_of(dialog.shown(), "Port 1, at the plug") == Approx(20.0).margin(0.5));
    CHECK_FALSE(dialog.save().isEnabled());  // no name yet
    dialog.name().setText("Grey 14-inch");
    dialog.cells().setValue(3);
    dialog.watts().setValue(45);
    type_ohms(dialog, "Processor core rail", "0R35");
    REQUIRE(eventually([&] { return dialog.save().isEnabled(); }));
    CHECK(volts_of(dialog.shown(), "Port 1, at the plug") == Approx(15.0).margin(0.5));
    CHECK(volts_of(dialog.shown(), "Main rail") == Approx(12.9).margin(0.2));
    CHECK(value_of(dialog.shown(), "Full battery") == "12.6 V");
    CHECK(value_of(dialog.shown(), "Processor core rail") == "350 mΩ");
    // Another kind starts from its own values.
    dialog.like().setCurrentIndex(dialog.like().findData(QString("usbc-dual")));
    CHECK(dialog.watts().value() == 65);
    CHECK(dialog.ports().rowCount() == 2);
}

TEST_CASE("fields that make no machine are said, and nothing is saved", "[machine]") {
    Shelf shelf;
    MachineDialog dialog(shelf.machines);
    dialog.startFrom(chained);
    dialog.name().setText("Grey 14-inch");
    type_ohms(dialog, "Main rail", "many");
    REQUIRE(eventually([&] { return dialog.problem().contains("Main rail"); }));
    CHECK_FALSE(dialog.save().isEnabled());
    type_ohms(dialog, "Main rail", "");
    // A charger that only steps down makes no six cells' rail of 19.5 V.
    dialog.startFrom(barrel);
    dialog.name().setText("Grey 14-inch");
    dialog.cells().setValue(6);
    REQUIRE(eventually([&] { return dialog.problem().contains("would not charge"); }));
    CHECK_FALSE(dialog.save().isEnabled());
    CHECK(QDir(shelf.folder.filePath("machines")).isEmpty());
}

TEST_CASE("a machine described at intake is the job's at once, and there after the next start", "[machine]") {
    Shelf shelf;
    {
        Window w;
        w.window.useMachines(shelf.machines);
        w.window.newTicket();
        REQUIRE(find_page<IntakePage>(w.window).describe().isVisibleTo(&w.window));
        find_page<IntakePage>(w.window).describe().click();
        MachineDialog* dialog = &find_page<MachineDialog>(w.window);
        dialog->startFrom(chained);
        dialog->name().setText("Grey 14-inch");
        dialog->cells().setValue(3);
        REQUIRE(eventually([&] { return dialog->save().isEnabled(); }));
        dialog->save().click();
        CHECK(dialog->isHidden());
    }
    const Topology* machine = shelf.knowledge.find_topology("grey-14-inch");
    REQUIRE(machine != nullptr);
    // The same name again is refused.
    MachineProfile twice = profile_like(*machine, shelf.knowledge);
    twice.title = "Grey 14-inch";
    const Outcome again = shelf.machines.add(twice);
    REQUIRE_FALSE(again.ok());
    CHECK_THAT(again.error().text(), Catch::Contains("already"));

    Knowledge next_start = shipped_knowledge();
    const MachineLibrary reopened(next_start, shelf.folder.filePath("machines").toStdString());
    REQUIRE(next_start.find_topology("grey-14-inch") != nullptr);
    CHECK(next_start.find_topology("grey-14-inch")->fingerprint == machine->fingerprint);
    CHECK(next_start.refused_files.size() == shipped_knowledge().refused_files.size());
}

TEST_CASE("a job on a described machine is reasoned over, and its predictions are kept", "[machine]") {
    Shelf shelf;
    MachineProfile profile = profile_like(*shelf.knowledge.find_topology(barrel), shelf.knowledge);
    profile.title = "Black 15-inch";
    profile.adapter_volts = 19.0;
    REQUIRE(shelf.machines.add(profile).ok());
    Job job;
    job.ticket.topology = "black-15-inch";
    job.bench = plugged("p1");
    const auto folder = shelf.folder.filePath("kept");
    for (const bool kept_already : {false, true}) {
        DiagnosisService service(shelf.knowledge, shipped_costs());
        service.keepPredictionsIn(folder.toStdString());
        CHECK(QDir(folder).entryList({"*.predictions"}).empty() != kept_already);
        service.ask(job);
        REQUIRE(eventually([&] { return service.answer().next_complete; }, 60000));
        CHECK_FALSE(service.answer().next.acts.empty());
        REQUIRE(eventually([&] { return !QDir(folder).entryList({"*.predictions"}).empty(); }, 120000));
    }
}

TEST_CASE("a described machine is changed, and what builds on it and the open job follow", "[machine]") {
    Shelf shelf;
    Window w;
    w.window.useMachines(shelf.machines);
    MachineProfile profile = profile_like(*shelf.knowledge.find_topology(chained), shelf.knowledge);
    profile.title = "Grey 14-inch";
    REQUIRE(shelf.machines.add(profile).ok());
    MachineProfile like_it = profile_like(*shelf.knowledge.find_topology("grey-14-inch"), shelf.knowledge);
    like_it.title = "Grey 15-inch";
    REQUIRE(shelf.machines.add(like_it).ok());

    OwnMachinesDialog& own = find_page<OwnMachinesDialog>(w.window);
    own.refresh();
    REQUIRE(own.table().model()->rowCount() == 2);
    own.table().selectRow(0);
    own.change().click();
    MachineDialog& dialog = find_page<MachineDialog>(w.window);
    CHECK(dialog.name().text() == "Grey 14-inch");
    CHECK_FALSE(dialog.like().isEnabled());
    type_ohms(dialog, "Processor core rail", "0R35");
    dialog.name().setText("Grey 14-inch, early");
    REQUIRE(eventually([&] { return dialog.save().isEnabled(); }));
    dialog.save().click();
    REQUIRE(dialog.isHidden());
    const auto core_ohms = [&](const std::string& id) {
        const Topology& machine = *shelf.knowledge.find_topology(id);
        const auto net = std::find_if(machine.nets.begin(), machine.nets.end(),
                                      [](const Net& one) { return one.title == "Processor core rail"; });
        return net->known_ohms.value_or(0.0);
    };
    CHECK(shelf.knowledge.find_topology("grey-14-inch")->title == "Grey 14-inch, early");
    CHECK(core_ohms("grey-14-inch") == Approx(0.35));
    CHECK(core_ohms("grey-15-inch") == Approx(0.35));
    CHECK(own.table().model()->index(0, 0).data().toString() == "Grey 14-inch, early");

    // The same at the next start.
    Knowledge next_start = shipped_knowledge();
    const MachineLibrary reopened(next_start, shelf.folder.filePath("machines").toStdString());
    REQUIRE(next_start.find_topology("grey-14-inch") != nullptr);
    CHECK(next_start.find_topology("grey-14-inch")->fingerprint ==
          shelf.knowledge.find_topology("grey-14-inch")->fingerprint);

    // What builds on it must go on working, and jobs speak of its ports.
    MachineProfile more_ports = profile_of(*shelf.knowledge.find_topology("grey-14-inch"), shelf.knowledge);
    more_ports.ports.push_back({"Port 3", ""});
    const Outcome refused_ports = shelf.machines.change(more_ports);
    REQUIRE_FALSE(refused_ports.ok());
    CHECK_THAT(refused_ports.error().text(), Catch::Contains("ports"));
    CHECK(shelf.knowledge.find_topology("grey-14-inch")->ports.size() == 2);
}

TEST_CASE("the open job is judged by the machine as it was changed", "[machine]") {
    Shelf shelf;
    MachineProfile profile = profile_like(*shelf.knowledge.find_topology(chained), shelf.knowledge);
    profile.title = "Grey 14-inch";
    REQUIRE(shelf.machines.add(profile).ok());
    DiagnosisService service(shelf.knowledge, shipped_costs());
    const auto before = service.engineFor("grey-14-inch");
    const std::string fingerprint = before->plan.topology().fingerprint;
    profile.id = "grey-14-inch";
    profile.net_ohms["main"] = 2000.0;
    REQUIRE(shelf.machines.change(profile).ok());
    // Work that is going on keeps the machine that it began with.
    CHECK(before->plan.topology().fingerprint == fingerprint);
    service.forget("grey-14-inch");
    CHECK(service.engineFor("grey-14-inch")->plan.topology().fingerprint != fingerprint);
}

TEST_CASE("a described machine is deleted unless a job or another machine needs it", "[machine]") {
    Shelf shelf;
    MachineProfile profile = profile_like(*shelf.knowledge.find_topology(chained), shelf.knowledge);
    profile.title = "Grey 14-inch";
    REQUIRE(shelf.machines.add(profile).ok());
    MachineProfile like_it = profile_like(*shelf.knowledge.find_topology("grey-14-inch"), shelf.knowledge);
    like_it.title = "Grey 15-inch";
    REQUIRE(shelf.machines.add(like_it).ok());
    int jobs = 1;
    OwnMachinesDialog own(shelf.machines, [&](const std::vector<std::string>& machines, auto answer) {
        answer(OwnMachinesDialog::Counts(machines.size(), Result<int>(jobs)));
    });
    CHECK(own.table().model()->index(1, 3).data().toString() == "1");
    own.table().selectRow(1);
    own.remove().click();
    CHECK_THAT(own.problem().toStdString(), Catch::Contains("one job"));
    jobs = 0;
    own.table().selectRow(0);
    own.remove().click();
    CHECK_THAT(own.problem().toStdString(),
               Catch::Contains("Grey 15-inch") && Catch::Contains("builds on it"));
    CHECK(shelf.knowledge.find_topology("grey-14-inch") != nullptr);
    for (int row : {1, 0}) {
        own.table().selectRow(row);
        own.remove().click();
    }
    CHECK(own.table().model()->rowCount() == 0);
    CHECK_FALSE(own.remove().isEnabled());
    CHECK(shelf.knowledge.find_topology("grey-14-inch") == nullptr);
    CHECK(QDir(shelf.folder.filePath("machines")).isEmpty());
    CHECK_THAT(own.problem().toStdString(), Catch::Contains("None yet"));
}

TEST_CASE("a machine described at another bench is taken in from its file", "[machine]") {
    Shelf there;
    MachineProfile profile = profile_like(*there.knowledge.find_topology(barrel), there.knowledge);
    profile.title = "Black 15-inch";
    REQUIRE(there.machines.add(profile).ok());
    const QString file = there.folder.filePath("machines/black-15-inch.json");
    Shelf here;
    OwnMachinesDialog own(here.machines, [](const std::vector<std::string>& machines, auto answer) {
        answer(OwnMachinesDialog::Counts(machines.size(), Result<int>(0)));
    });
    own.takeIn(file);
    REQUIRE(here.knowledge.find_topology("black-15-inch") != nullptr);
    CHECK(here.machines.isOwn("black-15-inch"));
    CHECK(own.table().model()->rowCount() == 1);
    own.takeIn(file);
    CHECK_THAT(own.problem().toStdString(), Catch::Contains("already"));
    own.takeIn(here.folder.filePath("nowhere.json"));
    CHECK_THAT(own.problem().toStdString(), Catch::Contains("nowhere.json"));
}
