// SPDX-License-Identifier: GPL-3.0-or-later
// A machine that nobody has opened: what is seen from outside, what the readings make of it, what is said
// where they speak against the ticket.
#include <QCheckBox>
#include <QLabel>

#include "app/screens/intake/intake_page.h"
#include "tests/app/app_fixture.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

const QString two_port_job = QStringLiteral(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json");

void choose(QComboBox& box, int data) {
    const int row = box.findData(data);
    REQUIRE(row >= 0);
    box.setCurrentIndex(row);
    emit box.activated(row);
}

QLabel& kinds_say(Window& w) {
    for (auto* label : find_page<BenchPage>(w.window).findChildren<QLabel*>()) {
        if (label->accessibleName() == "How this machine may be built")
            return *label;
    }
    FAIL("the bench has no line for how the machine may be built");
    throw;
}

}  // namespace

TEST_CASE("a machine that nobody has opened is weighed by what is seen and read", "[app][intake]") {
    Window w;
    REQUIRE(w.import_job(two_port_job).ok());
    w.settle();
    auto& intake = find_page<IntakePage>(w.window);
    const std::string before = w.job().ticket.topology;
    // Kinds with other inlets are no choice for one machine.
    CHECK_FALSE(intake.notSeen().isEnabled());
    const int all = intake.kinds().model()->rowCount();
    choose(intake.usbcPorts(), 2);
    choose(intake.otherInlet(), static_cast<int>(OtherInlet::none));
    CHECK(intake.kinds().model()->rowCount() < all);
    CHECK(w.job().ticket.topology == before);
    REQUIRE(intake.notSeen().isEnabled());
    intake.notSeen().click();
    CHECK_FALSE(w.job().ticket.kind_seen);
    CHECK_FALSE(intake.kinds().isEnabled());

    QLabel& says = kinds_say(w);
    REQUIRE(eventually([&] { return says.text().contains("Nobody has looked inside"); }, 180000));
    CHECK(says.text().contains("%"));
    // What is drawn is said where it is not the likeliest.
    auto& bench = find_page<BenchPage>(w.window);
    KnownDesign design;
    design.engine = w.workbench.diagnosis.answer().engine;
    design.architectures = {{before, 0.4, 0.97}, {"usbc-dual", 0.6, 0.03}};
    REQUIRE(before != "usbc-dual");
    bench.showKinds(design);
    CHECK_FALSE(says.text().contains("Drawn is"));
    std::swap(design.architectures.front(), design.architectures.back());
    bench.showKinds(design);
    CHECK(says.text().contains("Drawn is"));
    w.workbench.session.undoStack().undo();
    CHECK(w.job().ticket.kind_seen);
    CHECK(intake.kinds().isEnabled());
    CHECK(says.text().isEmpty());
    CHECK(w.job().ticket.topology == before);
}

TEST_CASE("a kind that the readings speak against is said so and stays", "[app][intake]") {
    Window w;
    REQUIRE(w.import_job(two_port_job).ok());
    w.settle();
    auto& bench = find_page<BenchPage>(w.window);
    const std::string own = w.job().ticket.topology;
    const std::string other = own == "usbc-dual" ? "usbc-two-chained" : "usbc-dual";
    KnownDesign design;
    design.engine = w.workbench.diagnosis.answer().engine;
    design.architectures = {{other, 0.4, 0.97}, {own, 0.6, 0.03}};
    bench.showKinds(design);
    CHECK(kinds_say(w).text().contains("speak against"));
    CHECK(w.job().ticket.topology == own);
    design.architectures = {{own, 0.6, 0.9}, {other, 0.4, 0.1}};
    bench.showKinds(design);
    CHECK(kinds_say(w).text().isEmpty());
    // What was said goes with the first answer that gives no reason for it.
    design.architectures = {{other, 0.4, 0.97}, {own, 0.6, 0.03}};
    bench.showKinds(design);
    REQUIRE_FALSE(kinds_say(w).text().isEmpty());
    w.workbench.session.addReading(ohms_reading("", for_ohms(), "vbus2", 3.3));
    REQUIRE(eventually([&] { return kinds_say(w).text().isEmpty(); }, 60000));
}
