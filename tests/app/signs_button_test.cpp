// SPDX-License-Identifier: GPL-3.0-or-later
// What the machine shows is taken with one key each, as the bench stands.
#include "app/screens/bench/signs_button.h"

#include <QMenu>
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
