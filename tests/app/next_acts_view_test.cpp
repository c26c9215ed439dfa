// SPDX-License-Identifier: GPL-3.0-or-later
// The list of what to do next: every line of an act can be read, however little room there is.
#include "app/screens/bench/next_acts_view.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

TEST_CASE("acts keep the height that they need when a scroll bar makes them narrower", "[app][next]") {
    Window w;
    REQUIRE(w.import_job(EH_SOURCE_DIR "/docs/examples/one-port-shorted.hound.json").ok());
    w.settle();
    NextActsView view;
    view.show(w.workbench.diagnosis.answer());
    static_cast<QWidget&>(view).show();
    REQUIRE(view.acts().rowCount() > 1);
    const auto rows_touch = [&] {
        for (int row = 1; row < view.acts().rowCount(); ++row) {
            const QRect above = view.visualRect(view.acts().index(row - 1));
            if (view.visualRect(view.acts().index(row)).top() != above.top() + above.height())
                return false;
        }
        return true;
    };
    // At widths at which titles take one line more or less: room for all rows, then less and a scroll bar.
    for (int width = 420; width > 180; width -= 6) {
        INFO(width << " wide");
        view.resize(width, 900);
        view.show(w.workbench.diagnosis.answer());
        QCoreApplication::processEvents();
        CHECK(rows_touch());
        view.resize(width, 120);
        QCoreApplication::processEvents();
        CHECK(rows_touch());
        view.show(w.workbench.diagnosis.answer());
        QCoreApplication::processEvents();
        CHECK(rows_touch());
    }
}
