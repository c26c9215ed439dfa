// SPDX-License-Identifier: GPL-3.0-or-later
// The bench strip: every plate follows its key, and the strip tells the truth about the job.
#include "app/widgets/bench_strip.h"

#include <map>

#include "core/base/random.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

// A session on a machine of that kind, with a strip over it.
struct Strip {
    JobSession session;
    BenchStrip strip{session, shipped_knowledge()};

    explicit Strip(const std::string& topology_id) {
        Job job;
        job.id = "strip";
        job.ticket.topology = topology_id;
        job.bench.port = topology(topology_id).ports.front().id;
        session.open(job);
    }
    const BenchConfiguration& bench() const { return session.job().bench; }
    void key(Qt::Key key) {
        for (QAction* action : strip.benchActions()) {
            if (action->shortcut() == QKeySequence(key)) {
                action->trigger();
                return;
            }
        }
        FAIL("no plate listens to that key");
    }
    QStringList values() const {
        QStringList all;
        for (const StripPlate* plate : strip.findChildren<StripPlate*>())
            all << plate->value();
        return all;
    }
};

}  // namespace

TEST_CASE("each key changes one thing of the bench, and back", "[app][strip]") {
    Strip s(chained);
    for (const Qt::Key key : {Qt::Key_K, Qt::Key_T, Qt::Key_C, Qt::Key_L, Qt::Key_B, Qt::Key_O}) {
        const BenchConfiguration before = s.bench();
        const QStringList shown_before = s.values();
        s.key(key);
        CHECK(s.bench() != before);
        int differing = 0;
        for (qsizetype i = 0; i < shown_before.size(); ++i)
            differing += s.values()[i] != shown_before[i] ? 1 : 0;
        CHECK(differing == 1);
        s.key(key);
        CHECK(s.bench() == before);
        CHECK(s.values() == shown_before);
    }
}

TEST_CASE("the plug goes round the ports, right way up and plugged in each time", "[app][strip]") {
    Strip s(chained);
    s.key(Qt::Key_T);
    s.key(Qt::Key_K);
    CHECK_FALSE(s.bench().charger_connected);
    s.key(Qt::Key_P);
    CHECK(s.bench().port == "p2");
    CHECK(s.bench().side == PlugSide::a);
    CHECK(s.bench().charger_connected);
    s.key(Qt::Key_P);
    CHECK(s.bench().port == "p1");
}

TEST_CASE("a board that is out means an open case", "[app][strip]") {
    Strip s(barrel);
    s.key(Qt::Key_M);
    CHECK(s.bench().board_out);
    CHECK(s.bench().case_open);
    s.key(Qt::Key_O);
    CHECK_FALSE(s.bench().board_out);
    CHECK_FALSE(s.bench().case_open);
    // No sequence of keys can lead to a closed case without its board.
    Random random(7);
    const std::vector<Qt::Key> keys{Qt::Key_K, Qt::Key_P, Qt::Key_T, Qt::Key_C,
                                    Qt::Key_L, Qt::Key_B, Qt::Key_O, Qt::Key_M};
    for (int i = 0; i < 300; ++i) {
        s.key(keys[static_cast<std::size_t>(random.below(static_cast<int>(keys.size())))]);
        CHECK((s.bench().case_open || !s.bench().board_out));
    }
    for (int i = 0; i < 1000 && s.session.undoStack().canUndo(); ++i)
        s.session.undoStack().undo();
    CHECK(s.bench().port == topology(barrel).ports.front().id);
    CHECK_FALSE(s.bench().board_out);
}

TEST_CASE("without a machine the strip is asleep, each plate is read out with its key", "[app][strip]") {
    Strip s(chained);
    for (const StripPlate* plate : s.strip.findChildren<StripPlate*>()) {
        CHECK(plate->isEnabled());
        CHECK_THAT(plate->accessibleName().toStdString(), Catch::Contains("key"));
        CHECK_THAT(plate->accessibleName().toStdString(), Catch::Contains(plate->value().toStdString()));
        // The text fits the plate.
        CHECK(plate->sizeHint().width() >=
              QFontMetrics(theme::text_font(1.1, true)).horizontalAdvance(plate->value()));
    }
    s.session.close();
    for (const StripPlate* plate : s.strip.findChildren<StripPlate*>())
        CHECK_FALSE(plate->isEnabled());
    for (const QAction* action : s.strip.benchActions())
        CHECK_FALSE(action->isEnabled());
}

TEST_CASE("a warning stands on the strip until it is taken back", "[app][strip]") {
    Strip s(chained);
    s.strip.setWarning("Disconnect the battery first.");
    CHECK(s.strip.warning() == "Disconnect the battery first.");
    s.strip.resize(1200, s.strip.height());
    const QImage with = s.strip.grab().toImage();
    s.strip.setWarning({});
    CHECK(s.strip.warning().isEmpty());
    CHECK(s.strip.grab().toImage() != with);
}

TEST_CASE(
    "the plug goes from free over held to the tester and back, and without a charger a bare one goes in",
    "[app][strip]") {
    Strip s(chained);
    const BenchConfiguration before = s.bench();
    s.key(Qt::Key_H);
    CHECK(s.bench().plug_held);
    s.key(Qt::Key_H);
    CHECK(s.bench().tester == Tester::loaded);
    CHECK_FALSE(s.bench().plug_held);
    s.key(Qt::Key_H);
    CHECK(s.bench().tester == Tester::no_load);
    s.key(Qt::Key_H);
    CHECK(s.bench() == before);
    s.key(Qt::Key_K);
    s.key(Qt::Key_H);
    CHECK(s.bench().bare_plug);
    s.key(Qt::Key_P);
    CHECK_FALSE(s.bench().bare_plug);
    CHECK(s.bench().charger_connected);
}

TEST_CASE("the power button is left alone, pressed, or the machine kept off", "[app][strip]") {
    Strip s(chained);
    for (const Button button : {Button::pressed, Button::kept_off, Button::left_alone}) {
        s.key(Qt::Key_W);
        CHECK(s.bench().button == button);
    }
}

TEST_CASE("the meter's plate says which one reads, and takes out what was lent", "[app][strip]") {
    Strip s(barrel);
    s.key(Qt::Key_N);
    CHECK(s.bench().second_instruments);
    s.key(Qt::Key_N);
    CHECK_FALSE(s.bench().second_instruments);
    s.session.edit("lend", [](Job& job) { job.bench.lent = {"jack"}; });
    s.key(Qt::Key_N);
    CHECK(s.bench().lent.empty());
    CHECK_FALSE(s.bench().second_instruments);
}

TEST_CASE("charger and battery out at once cut all power, which is not forgotten when they go back",
          "[app][strip]") {
    Strip s(chained);
    s.key(Qt::Key_B);
    CHECK_FALSE(s.bench().power_was_cut);
    s.key(Qt::Key_K);
    CHECK(s.bench().power_was_cut);
    s.key(Qt::Key_B);
    s.key(Qt::Key_K);
    CHECK(s.bench().power_was_cut);
}
