// SPDX-License-Identifier: GPL-3.0-or-later
// The board in the real window: found by name, by click, turned over, and remembered for its kind of machine.
#include <fstream>

#include "app/screens/board/board_page.h"
#include "app/screens/board/board_view.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "tests/app/app_fixture.h"

using namespace eh;
using namespace eh::test;

namespace {

QString demo_board() {
    return QString::fromStdString((default_data_directory() / "boards" / "demo-board.json").string());
}

void with_machine(Window& w) {
    w.press(Qt::Key_N, Qt::ControlModifier);
    w.press(Qt::Key_Return);
    w.workbench.session.edit("machine", [](Job& job) { job.ticket.topology = chained; });
    w.press(Qt::Key_F11);
    REQUIRE(w.window.station() == MainWindow::BoardStation);
}

}  // namespace

TEST_CASE("a net is found by its name, with what hangs on it, where it goes on, and what was measured",
          "[app][board]") {
    Preferences().setBoardOf(chained, {});
    Window w;
    with_machine(w);
    BoardPage& page = find_page<BoardPage>(w.window);
    CHECK(page.map() == nullptr);
    REQUIRE(page.openFile(demo_board()).ok());
    CHECK(page.map()->parts().size() > 350);
    w.quick("chg in 2r2");
    w.press(Qt::Key_F11);
    page.search().setText("chgin");
    REQUIRE(page.found().count() >= 1);
    page.found().setCurrentRow(0);
    CHECK_THAT(page.details().toStdString(), Catch::Contains("Net chgin"));
    CHECK_THAT(page.details().toStdString(), Catch::Contains("RS1"));
    CHECK_THAT(page.details().toStdString(), Catch::Contains("over RS1 to vin"));
    CHECK_THAT(page.details().toStdString(), Catch::Contains("20.0 V when sound"));
    page.search().setText("ucpu1");
    page.found().setCurrentRow(0);
    CHECK_THAT(page.details().toStdString(), Catch::Contains("Part UCPU1"));
    page.pickPart(page.map()->find_part("J2"));
    CHECK_THAT(page.details().toStdString(), Catch::Contains("Beside it: "));
}

TEST_CASE("a pad is picked where it is clicked, on either side", "[app][board]") {
    Window w;
    with_machine(w);
    BoardPage& page = find_page<BoardPage>(w.window);
    REQUIRE(page.openFile(demo_board()).ok());
    BoardView& view = page.view();
    for (const BoardSide side : {BoardSide::top, BoardSide::bottom}) {
        if (view.side() != side)
            page.turnOver();
        for (int pad = 0; pad < 300; pad += 29) {
            const Pad& own = page.map()->pad(pad);
            if (!reachable(own.side, side) || own.part == no_index)
                continue;
            view.showAll();
            view.zoom(8.0, view.at(*own.place));
            const QPointF at = view.at(*own.place);
            // Where a point is drawn is where it is found again.
            CHECK(distance_mm(view.placeAt(at), *own.place) < 1e-6);
            QTest::mouseClick(&view, Qt::LeftButton, Qt::NoModifier, at.toPoint());
            CHECK_THAT(page.details().toStdString(),
                       Catch::Contains("Part " + page.map()->part(own.part).name + "<"));
        }
    }
    QTest::mouseClick(&view, Qt::LeftButton, Qt::NoModifier, QPoint(1, 1));
    CHECK_THAT(page.details().toStdString(), Catch::Contains("Click a pad"));
}

TEST_CASE("a board is remembered for its kind of machine, a file that is none leaves what is open",
          "[app][board]") {
    {
        Window w;
        with_machine(w);
        REQUIRE(find_page<BoardPage>(w.window).openFile(demo_board()).ok());
        const QString bad = w.folder.filePath("bad.ipc");
        std::ofstream(bad.toStdString()) << "C nothing\n999\n";
        CHECK_FALSE(find_page<BoardPage>(w.window).openFile(bad).ok());
        CHECK(find_page<BoardPage>(w.window).map() != nullptr);
    }
    Window again;
    with_machine(again);
    CHECK(find_page<BoardPage>(again.window).map() != nullptr);
    again.window.workbench().session.edit("machine", [](Job& job) { job.ticket.topology = barrel; });
    CHECK(find_page<BoardPage>(again.window).map() == nullptr);
    Preferences().setBoardOf(chained, {});
}
