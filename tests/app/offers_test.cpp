// SPDX-License-Identifier: GPL-3.0-or-later
// The survey as one act and a job laid by for a part, in the window.
#include <QAbstractButton>
#include <QLabel>

#include "app/screens/bench/offer_bar.h"
#include "app/screens/bench/offers_view.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

OfferBar& offer_bar(Window& w, const char* name) {
    auto* bar = w.window.findChild<OfferBar*>(name);
    REQUIRE(bar != nullptr);
    return *bar;
}

void take_up(OfferBar& bar) {
    bar.findChild<QAbstractButton*>()->click();
    QCoreApplication::processEvents();
}

std::string words_of(const OfferBar& bar) {
    return bar.findChild<QLabel*>()->text().toStdString();
}

void open_closed_case(Window& w) {
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.workbench.session.edit("as it came in", [](Job& job) {
        job.readings.clear();
        job.bench = plugged("p1");
    });
    w.settle();
}

// As the capture key does with what the meter shows.
void read_as_it_stands(Window& w) {
    w.workbench.session.addReading(meter_reading("", w.job().bench, MeterPattern::steady, 20.0, 1.8));
    QCoreApplication::processEvents();
}

}  // namespace

TEST_CASE("the survey sets the bench up for one way after another and ends with the last", "[app][offers]") {
    Window w;
    open_closed_case(w);
    OfferBar& bar = offer_bar(w, "survey");
    REQUIRE(eventually([&] { return bar.isVisible(); }));
    const auto survey = w.workbench.diagnosis.answer().next.survey;
    REQUIRE(survey);
    CHECK_THAT(words_of(bar), Catch::Contains(QString::number(survey->ways.size()).toStdString()));
    take_up(bar);
    for (std::size_t i = 0; i < survey->ways.size(); ++i) {
        CAPTURE(i);
        CHECK(electrical_part(w.job().bench) == electrical_part(survey->ways[i]));
        CHECK_THAT(words_of(bar), Catch::Contains("left"));
        read_as_it_stands(w);
    }
    CHECK(w.job().readings.size() == survey->ways.size());
    w.settle();
    CHECK_FALSE(bar.isVisible());
}

TEST_CASE("a survey ends where somebody stops it, plugs in elsewhere or takes a reading back",
          "[app][offers]") {
    Window w;
    open_closed_case(w);
    OfferBar& bar = offer_bar(w, "survey");
    REQUIRE(eventually([&] { return bar.isVisible(); }));
    const auto under_way = [&] { return words_of(bar).find("left") != std::string::npos; };
    const auto begin = [&] {
        w.settle();
        REQUIRE(bar.isVisible());
        REQUIRE_FALSE(under_way());
        take_up(bar);
        REQUIRE(under_way());
    };
    begin();
    take_up(bar);
    CHECK_FALSE(under_way());
    begin();
    w.workbench.session.edit("elsewhere", [](Job& job) { job.bench.battery_in = !job.bench.battery_in; });
    CHECK_FALSE(under_way());
    begin();
    read_as_it_stands(w);
    REQUIRE(under_way());
    // Another reading than the meter's, as the bench stands, is none of its own and does no harm.
    Reading moved;
    moved.configuration = w.job().bench;
    moved.value = WiggleReading{};
    w.workbench.session.addReading(moved);
    QCoreApplication::processEvents();
    CHECK(under_way());
    w.workbench.session.undoStack().undo();
    QCoreApplication::processEvents();
    CHECK_FALSE(under_way());
}

TEST_CASE("a job is laid by for its part, the shelf says so, and undo takes it up again", "[app][offers]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    OfferBar& bar = offer_bar(w, "parking");
    REQUIRE(w.workbench.diagnosis.answer().next.parking);
    REQUIRE(bar.isVisible());
    const Job before = w.job();
    take_up(bar);
    CHECK(w.job().waiting.on == WaitsFor::part);
    CHECK(w.job().waiting.due_ms > 0);
    CHECK_FALSE(w.job().waiting.note.empty());
    CHECK_FALSE(bar.isVisible());
    CHECK(wait_state(w.job()).on == WaitsFor::part);
    w.workbench.session.undoStack().undo();
    CHECK(w.job() == before);
    CHECK(bar.isVisible());
}
