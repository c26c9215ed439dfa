// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine shows is taken with one key each, as the bench stands.
#include "app/screens/bench/signs_button.h"

#include <QMenu>
#include <QtTest>
#include <algorithm>
#include <set>

#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("each sign and message has a key of its own in the menu", "[app][signs]") {
    QWidget page;
    SignsButton signs(&page);
    std::set<QString> keys;
    std::vector<ReadingValue> taken;
    QObject::connect(&signs, &SignsButton::seen, [&](const ReadingValue& value) { taken.push_back(value); });
    for (QAction* action : signs.menu()->actions()) {
        if (action->isSeparator())
            continue;
        REQUIRE(action->text().startsWith('&'));
        CHECK(keys.insert(action->text().mid(1, 1)).second);
        action->trigger();
    }
    CHECK(taken.size() == machine_sign_count + firmware_message_count + 1);
    for (std::size_t i = 0; i < taken.size(); ++i) {
        for (std::size_t j = 0; j < i; ++j)
            CHECK_FALSE(taken[i] == taken[j]);
    }
}

TEST_CASE("what the machine shows is taken as the bench stands, and undone", "[app][signs]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    auto& page = find_page<BenchPage>(w.window);
    auto* signs = page.findChild<SignsButton*>("signs");
    REQUIRE(signs != nullptr);
    const std::size_t before = w.job().readings.size();
    const BenchConfiguration bench = w.job().bench;
    emit signs->seen(SignReading{MachineSign::blinking});
    REQUIRE(w.job().readings.size() == before + 1);
    const Reading& reading = w.job().readings.back();
    CHECK(reading.as<SignReading>()->sign == MachineSign::blinking);
    CHECK(reading.configuration == bench);
    CHECK(reading.taken_ms > 0);
    w.press(Qt::Key_Z, Qt::ControlModifier);
    CHECK(w.job().readings.size() == before);
}

TEST_CASE("what is seen of an inlet closely is taken by flaw and contact", "[app][signs]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    auto& page = find_page<BenchPage>(w.window);
    auto* inlets = page.findChild<InletMenu*>();
    REQUIRE(inlets != nullptr);
    REQUIRE(inlets->isEnabled());
    // Every inlet of the machine, and every contact that it has wired.
    const Topology& machine = *shipped_knowledge().find_topology(w.job().ticket.topology);
    CHECK(static_cast<std::size_t>(inlets->actions().size()) == machine.ports.size());
    std::vector<LookReading> seen;
    QObject::connect(inlets, &InletMenu::seen,
                     [&](const ReadingValue& value) { seen.push_back(std::get<LookReading>(value)); });
    const std::size_t before = w.job().readings.size();
    for (QAction* action : inlets->actions().front()->menu()->findChildren<QAction*>())
        if (action->menu() == nullptr && !action->isSeparator())
            action->trigger();
    REQUIRE(seen.size() > 20);
    CHECK(w.job().readings.size() == before + seen.size());
    const auto takes = [&](const LookReading& look) {
        return std::find(seen.begin(), seen.end(), look) != seen.end();
    };
    CHECK(takes({"rec1"}));
    CHECK(takes({"rec1", Look::broken, Flaw::bent, Contact::cc1}));
    CHECK(takes({"rec1", Look::burnt, Flaw::none, Contact::power}));
    CHECK_FALSE(takes({"rec1", Look::broken, Flaw::bent, Contact::id}));
}

TEST_CASE("the numbers of a settings page are typed from the menu of signs", "[app][signs]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    auto& page = find_page<BenchPage>(w.window);
    emit page.findChild<SignsButton*>("signs")->typesPage();
    CHECK(page.quickLine().field().text() == "says ");
    // What it says in words is never made up for the technician.
    page.quickLine().field().setText("says 65w");
    CHECK_THAT(page.quickLine().echo().toStdString(), Catch::Contains("what does the machine say"));
    page.quickLine().field().setText("says charging 65w health 300%");
    CHECK_THAT(page.quickLine().echo().toStdString(), Catch::Contains("0 to 120 %"));
    page.quickLine().field().setText("says charging 65w health 81%");
    QTest::keyClick(&page.quickLine().field(), Qt::Key_Return);
    CHECK(w.job().readings.back().as<FirmwareReading>()->page == SettingsPage{65.0, 81.0, {}});
}
