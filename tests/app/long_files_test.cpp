// SPDX-License-Identifier: GPL-3.0-or-later
// Files of 2 GB: read to the end in memory that stays flat, and given up at once. Hidden, for they need the
// disk and some minutes: app_test "[2gb]".
#include <QTemporaryDir>
#include <QTimer>
#include <catch2/catch.hpp>
#include <fstream>
#include <sstream>

#include "app/services/talk_recording.h"
#include "app/services/trace_import.h"
#include "core/trace/trace_csv.h"
#include "tests/support/event_loop.h"
#include "tests/support/own_memory.h"
#include "tests/support/talk.h"

using namespace eh;
using test::eventually;

namespace {

constexpr std::streamoff two_gigabytes = 2'000'000'000;
constexpr int ten_minutes_ms = 600'000;

struct LongFile {
    QTemporaryDir folder;
    QString name;
    std::uint64_t parts = 0;  // samples or packets that are in it
};

// An hour's worth of samples at 1 kHz at a time, and text in the middle.
void write_long_trace(LongFile& file) {
    file.name = file.folder.path() + "/long.csv";
    std::ofstream stream(file.name.toStdString(), std::ios::binary);
    write_trace_header(stream);
    std::vector<MeterSample> piece(100'000);
    while (stream.tellp() < two_gigabytes) {
        for (MeterSample& sample : piece)
            sample = {0.001 * static_cast<double>(file.parts++), 20.0, 1.25};
        write_trace_lines(stream, piece);
        stream << "the meter was moved\n";
    }
}

// One conversation over and over.
void write_long_capture(LongFile& file) {
    pd::TalkWriter talk;
    talk.offer(test::sixty_watts());
    talk.request(test::asking(4), test::sixty_watts()[3]);
    const std::vector<double> edges = pd::edges_of(talk.frames());
    file.name = file.folder.path() + "/long.vcd";
    std::ofstream stream(file.name.toStdString(), std::ios::binary);
    stream << "$timescale 1 ns $end\n$var wire 1 ! CC1 $end\n$enddefinitions $end\n#0\n0!\n";
    std::int64_t start_ns = 0;
    bool high = false;
    while (stream.tellp() < two_gigabytes) {
        std::string text;
        for (const double edge : edges) {
            high = !high;
            text += '#' + std::to_string(start_ns + std::llround(1e9 * edge)) + (high ? "\n1!\n" : "\n0!\n");
        }
        stream << text;
        start_ns += 50'000'000;
        file.parts += talk.frames().size();
    }
}

// The longest time that the window would not have answered, while `work` is on.
template <typename Condition>
qint64 longest_pause_ms(Condition done) {
    qint64 longest_ms = 0;
    QElapsedTimer since;
    since.start();
    QTimer beat;
    QObject::connect(&beat, &QTimer::timeout, [&] { longest_ms = std::max(longest_ms, since.restart()); });
    beat.start(1);
    REQUIRE(eventually(done, ten_minutes_ms));
    return longest_ms;
}

}  // namespace

TEST_CASE("a trace of 2 GB", "[.][2gb]") {
    LongFile file;
    write_long_trace(file);
    const long before = test::resident_kilobytes();
    TraceImport import;
    double share = 0.0;
    long most = 0;
    QObject::connect(&import, &TraceImport::progressed, [&](double now) {
        CHECK(now >= share);
        share = now;
        most = std::max(most, test::resident_kilobytes());
    });
    quint64 odd_lines = 0;
    QObject::connect(&import, &TraceImport::finished, [&](quint64 odd) { odd_lines = odd; });
    import.start(file.name);
    const qint64 pause_ms = longest_pause_ms([&] { return odd_lines > 0; });
    const auto record = import.take();
    REQUIRE(record);
    CHECK(record->samples() == file.parts);
    CHECK(odd_lines == file.parts / 100'000);
    CHECK(share > 0.99);
    CHECK(most - before < 64 * 1024);
    WARN("longest pause of the window: " << pause_ms << " ms; memory grew by " << (most - before) / 1024
                                         << " MiB");

    share = 0.0;
    bool stopped = false;
    QObject::connect(&import, &TraceImport::progressed, &import, [&](double now) {
        if (now > 0.02)
            import.cancel();
    });
    QObject::connect(&import, &TraceImport::failed, [&] { stopped = true; });
    import.start(file.name);
    CHECK(eventually([&] { return stopped || !import.running(); }, ten_minutes_ms));
    CHECK_FALSE(import.take());
}

TEST_CASE("a capture of 2 GB", "[.][2gb]") {
    LongFile file;
    write_long_capture(file);
    MeterFeed feed;
    TalkRecording talk(feed);
    bool changed = false;
    QObject::connect(&talk, &TalkRecording::changed, [&] { changed = true; });
    talk.load(file.name);
    const qint64 pause_ms = longest_pause_ms([&] { return changed; });
    CHECK(talk.frames().size() == file.parts);
    WARN("longest pause of the window: " << pause_ms << " ms; packets: " << talk.frames().size()
                                         << "; memory in all: " << test::resident_kilobytes() / 1024
                                         << " MiB");

    QObject::connect(&talk, &TalkRecording::progressed, &talk, [&](double now) {
        if (now > 0.02)
            talk.cancel();
    });
    changed = false;
    talk.load(file.name);
    CHECK(eventually([&] { return !talk.loading(); }, ten_minutes_ms));
    CHECK_FALSE(changed);
    CHECK(talk.frames().size() == file.parts);
}
