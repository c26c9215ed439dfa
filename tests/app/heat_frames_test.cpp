// SPDX-License-Identifier: GPL-3.0-or-later
// Frames read beside the window: all of them, or what was read when it was stopped, and a word about it.
#include "app/services/heat_frames.h"

#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <fstream>

#include "tests/support/event_loop.h"

using namespace eh;
using test::eventually;

namespace {

// Frames of 32 x 24 that are as warm everywhere.
QString recording(const QTemporaryDir& folder, const char* name, int count, float celsius = 23.5F) {
    std::vector<ThermalFrame> frames(static_cast<std::size_t>(count));
    for (ThermalFrame& frame : frames) {
        frame.width = 32;
        frame.height = 24;
        frame.celsius.assign(32 * 24, celsius);
    }
    const QString path = folder.filePath(name);
    std::ofstream(path.toStdString(), std::ios::binary) << write_frame_csv(frames);
    return path;
}

}  // namespace

TEST_CASE("frames of several files come in the order of their names", "[app][thermal]") {
    const QTemporaryDir folder;
    HeatFrames frames;
    std::optional<QStringList> remarks;
    QObject::connect(&frames, &HeatFrames::filesRead, [&](const QStringList& said) { remarks = said; });
    frames.openFiles({recording(folder, "b.csv", 3, 31.5F), recording(folder, "a.csv", 2, 20.5F)});
    REQUIRE(eventually([&] { return remarks.has_value(); }));
    CHECK(remarks->isEmpty());
    REQUIRE(frames.size() == 5);
    CHECK(frames.latest(5).front()->frame.celsius.front() == Approx(20.5F));
    CHECK(frames.last().celsius.front() == Approx(31.5F));
}

TEST_CASE("reading that is stopped keeps the files before and says so", "[app][thermal]") {
    const QTemporaryDir folder;
    const QString first = recording(folder, "a.csv", 40);
    const QString second = recording(folder, "b.csv", 10000);
    const double share_of_first = static_cast<double>(QFileInfo(first).size()) /
                                  static_cast<double>(QFileInfo(first).size() + QFileInfo(second).size());
    HeatFrames frames;
    std::optional<QStringList> remarks;
    QObject::connect(&frames, &HeatFrames::filesRead, [&](const QStringList& said) { remarks = said; });
    QObject::connect(&frames, &HeatFrames::progressed, [&](double share) {
        if (share > share_of_first)
            frames.stopReading();
    });
    frames.openFiles({first, second});
    REQUIRE(eventually([&] { return remarks.has_value(); }, 60000));
    CHECK(frames.size() == 40);
    REQUIRE(remarks->size() == 1);
    CHECK(remarks->front().contains("Stopped"));
    CHECK(remarks->front().contains("40"));
}
