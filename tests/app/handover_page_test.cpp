// SPDX-License-Identifier: GPL-3.0-or-later
// The handover page: two lengths, advice that follows, a date to look again, the logo, who worked on it.
#include "app/screens/handover/handover_page.h"

#include <QImage>

#include "app/screens/intake/intake_page.h"
#include "app/screens/repair/repair_page.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("the sheet's two lengths, advice that follows from the work, and a date for what is temporary",
          "[app][handover]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.workbench.session.edit("work", [](Job& job) {
        Act act;
        act.id = "a1";
        act.kind = Work::reflow;
        act.block = "pc2";
        act.solder = "sn63";
        act.minutes = 25.0;
        job.acts.push_back(act);
    });
    HandoverPage& page = find_page<HandoverPage>(w.window);
    w.window.go(MainWindow::HandoverStation);
    CHECK(page.preview().toPlainText().contains("re-soldered in place"));
    CHECK_FALSE(page.preview().toPlainText().contains("replace the chip"));
    page.reader().setCurrentIndex(1);
    CHECK(page.preview().toPlainText().contains("replace the chip"));
    CHECK(page.preview().toPlainText().contains("25 min"));
    CHECK(page.followUpReason().placeholderText().contains("60 days"));
    page.adviceButton().click();
    CHECK(w.job().handover.advice.find("re-soldered in place") != std::string::npos);
    REQUIRE(w.job().handover.follow_up_ms != 0);
    CHECK(page.followUp().date() == QDate::currentDate().addDays(60));
    CHECK(page.preview().toPlainText().contains("looked at again"));
    page.followUp().setDate(page.followUp().minimumDate());
    CHECK(w.job().handover.follow_up_ms == 0);
    w.workbench.session.undoStack().undo();
    CHECK(w.job().handover.follow_up_ms != 0);
}

TEST_CASE("a logo is taken from a picture, anything else is refused", "[app][handover]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    HandoverPage& page = find_page<HandoverPage>(w.window);
    const QString file = w.folder.filePath("logo.png");
    QImage picture(900, 300, QImage::Format_RGB32);
    picture.fill(Qt::darkCyan);
    REQUIRE(picture.save(file));
    CHECK_FALSE(page.preview().toHtml().contains("data:image"));
    REQUIRE(page.setLogo(file).ok());
    CHECK(page.preview().toHtml().contains("data:image"));
    CHECK_FALSE(page.setLogo(EH_SOURCE_DIR "/README.md").ok());
    CHECK(w.workbench.preferences.shopLogo() == file);
    REQUIRE(page.setLogo({}).ok());
    CHECK_FALSE(page.preview().toHtml().contains("data:image"));
}

TEST_CASE("who works on it is written at intake, and the next ticket begins with the same name",
          "[app][intake]") {
    Window w;
    w.window.newTicket();
    QLineEdit* field = nullptr;
    for (QLineEdit* edit : find_page<IntakePage>(w.window).findChildren<QLineEdit*>()) {
        if (edit->placeholderText().contains("kept for the next"))
            field = edit;
    }
    REQUIRE(field != nullptr);
    field->setFocus();
    w.type("Bench two");
    CHECK(w.job().technician == "Bench two");
    w.window.newTicket();
    CHECK(w.job().technician == "Bench two");
    w.workbench.preferences.setTechnician({});
}
