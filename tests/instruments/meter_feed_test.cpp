// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/meter_feed.h"

#include <QSignalSpy>
#include <QTcpServer>
#include <fstream>

#include "core/base/random.h"
#include "instruments/line_splitter.h"
#include "instruments/meter_dialect.h"
#include "tests/support/event_loop.h"

using namespace eh;
using eh::test::eventually;

namespace {

struct Source {
    QTcpServer server;
    QTcpSocket* client = nullptr;

    explicit Source(quint16 port = 0) {
        REQUIRE(server.listen(QHostAddress::LocalHost, port));
        QObject::connect(&server, &QTcpServer::newConnection,
                         [this] { client = server.nextPendingConnection(); });
    }
    QString address() const { return QStringLiteral("127.0.0.1:%1").arg(server.serverPort()); }
    void send(const QByteArray& bytes) {
        client->write(bytes);
        client->flush();
    }
};

}  // namespace

TEST_CASE("lines come out whole however the bytes arrive", "[instruments]") {
    Random random(5);
    QByteArrayList wanted;
    QByteArray all;
    for (int i = 0; i < 500; ++i) {
        wanted << QByteArray::number(i * 37) + ",1.0,2.0";
        all += wanted.last() + (i % 3 == 0 ? "\r\n" : "\n");
    }
    LineSplitter splitter;
    QByteArrayList got;
    for (qsizetype from = 0; from < all.size();) {
        const qsizetype length = 1 + random.below(60);
        got += splitter.feed(all.mid(from, length));
        from += length;
    }
    CHECK(got == wanted);
    CHECK(splitter.overlong_lines() == 0);
}

TEST_CASE("an endless line is thrown away and counted, and the next line is read", "[instruments]") {
    LineSplitter splitter(100);
    for (int i = 0; i < 10'000; ++i)
        CHECK(splitter.feed(QByteArray(1000, 'x')).isEmpty());
    CHECK(splitter.overlong_lines() == 1);
    CHECK(splitter.feed("tail\n1,2,3\n") == QByteArrayList{"1,2,3"});
}

TEST_CASE("meter lines are numbers with points, remarks, the header, or nonsense", "[instruments]") {
    const auto sample = parse_meter_line("1.50,20.01,0.183");
    REQUIRE(std::holds_alternative<MeterSample>(sample));
    CHECK(std::get<MeterSample>(sample) == MeterSample{1.5, 20.01, 0.183});
    CHECK(std::holds_alternative<MeterSample>(parse_meter_line(" 1.5 , 5.0 , 0.1 , 99")));
    CHECK(std::holds_alternative<MeterHeader>(parse_meter_line("t_s,volts,amps")));
    CHECK(std::get<MeterRemark>(parse_meter_line("# hello")).text == "hello");
    for (const char* line :
         {"", "abc", "1,2", "1,2,x", "1,,3", "1,nan,0", "1,inf,0", "1,1e9,0", "1,5,-1e5", "1;5;0"}) {
        CAPTURE(line);
        CHECK(std::holds_alternative<MeterNonsense>(parse_meter_line(line)));
    }
}

TEST_CASE("columns are where a meter puts them, in its units", "[instruments]") {
    MeterColumns columns;
    columns.time.reset();
    columns.volts = 2;
    columns.amps = 0;
    columns.volts_unit = columns.amps_unit = 1e-3;
    columns.separator = ';';
    const auto sample = parse_meter_line("183; x ;20010", columns);
    REQUIRE(std::holds_alternative<MeterSample>(sample));
    CHECK(std::get<MeterSample>(sample).volts == Approx(20.01));
    CHECK(std::get<MeterSample>(sample).amps == Approx(0.183));
    columns = {};
    columns.separator = ' ';
    columns.time_unit_s = 1e-3;
    const auto blanks = parse_meter_line("1500\t 20.01   0.183", columns);
    REQUIRE(std::holds_alternative<MeterSample>(blanks));
    CHECK(std::get<MeterSample>(blanks) == MeterSample{1.5, 20.01, 0.183});
    CHECK(std::holds_alternative<MeterNonsense>(parse_meter_line("1500 20.01", columns)));
}

TEST_CASE("the clock of live readings is the one that counts a suspend", "[instruments]") {
    // "The uptime of the system (including time spent in suspend)": proc(5), /proc/uptime.
    std::ifstream uptime("/proc/uptime");
    double up_s = 0.0;
    REQUIRE(uptime >> up_s);
    CHECK(boot_clock_s() == Approx(up_s).margin(2.0));
}

TEST_CASE("what a meter says after a suspend is placed after it", "[instruments]") {
    double now_s = 1000.0;
    Source source;
    MeterFeed feed(nullptr, [&] { return now_s; });
    std::vector<MeterSample> got;
    QObject::connect(&feed, &MeterFeed::samplesArrived,
                     [&](const std::vector<MeterSample>& s) { got.insert(got.end(), s.begin(), s.end()); });
    feed.open(source.address());
    REQUIRE(eventually([&] { return source.client != nullptr; }));
    now_s += 0.1;
    source.send("7.0,5.0,0.1\n");
    REQUIRE(eventually([&] { return got.size() == 1; }));
    constexpr double asleep_s = 3600.0;
    now_s += asleep_s;
    SECTION("the meter's own clock went on") {
        source.send("3607.0,5.0,0.2\n");
    }
    SECTION("the meter was asleep too") {
        source.send("7.1,5.0,0.2\n");
    }
    REQUIRE(eventually([&] { return got.size() == 2; }));
    CHECK(got[1].t_s - got[0].t_s == Approx(asleep_s).margin(0.2));
}

TEST_CASE("a meter without a clock, and one that speaks once a second, are read as they come",
          "[instruments]") {
    Source source;
    MeterFeed feed;
    MeterColumns columns;
    columns.time.reset();
    columns.volts = 0;
    columns.amps = 1;
    feed.setColumns(columns);
    std::vector<MeterSample> got;
    QObject::connect(&feed, &MeterFeed::samplesArrived,
                     [&](const std::vector<MeterSample>& s) { got.insert(got.end(), s.begin(), s.end()); });
    feed.open(source.address());
    REQUIRE(eventually([&] { return source.client != nullptr; }));
    source.send("5.0,0.1\n5.0,0.2\n");
    REQUIRE(eventually([&] { return got.size() == 2; }));
    CHECK(got[1].t_s > got[0].t_s);
    CHECK(got[1].t_s <= feed.now_s());
    // Lines about a second apart: after the second of them the meter is slow, not dark.
    for (int line = 0; line < 4; ++line) {
        QElapsedTimer second;
        second.start();
        (void)eventually([&] { return second.elapsed() > 900; });
        source.send("5.0,0.1\n");
    }
    REQUIRE(eventually([&] { return got.size() == 6; }));
    CHECK(feed.dark_after_s() > 1.0);
    CHECK(feed.last().volts == 5.0);
}

TEST_CASE("random bytes never crash the dialect", "[instruments]") {
    Random random(9);
    for (int i = 0; i < 20'000; ++i) {
        QByteArray line;
        for (int k = random.below(30); k > 0; --k)
            line += static_cast<char>(random.below(256));
        const MeterLine parsed = parse_meter_line(line);
        if (const auto* sample = std::get_if<MeterSample>(&parsed))
            CHECK(std::isfinite(sample->volts));
    }
}

TEST_CASE("a feed is lit while lines come, dark when they stop, and connecting when the source goes",
          "[instruments]") {
    Source source;
    MeterFeed feed;
    QSignalSpy samples(&feed, &MeterFeed::samplesArrived);
    QSignalSpy gaps(&feed, &MeterFeed::gapStarted);
    CHECK(feed.state() == MeterFeed::State::idle);
    feed.open(source.address());
    REQUIRE(eventually([&] { return source.client != nullptr; }));
    source.send("t_s,volts,amps\n0.0,5.0,0.1\n0.02,5.0,0.1\n");
    REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::lit; }));
    CHECK(samples.count() >= 1);
    REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::dark; }));
    source.send("5.0,5.0,0.1\n");
    REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::lit; }));
    source.client->abort();
    REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::connecting; }));
    CHECK(gaps.count() == 1);
    CHECK_FALSE(feed.problem().isEmpty());
}

TEST_CASE("a feed comes back by itself when its source does", "[instruments]") {
    quint16 port = 0;
    MeterFeed feed;
    {
        Source source;
        port = source.server.serverPort();
        feed.open(source.address());
        REQUIRE(eventually([&] { return source.client != nullptr; }));
        source.send("0.0,5.0,0.1\n");
        REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::lit; }));
        source.client->abort();
    }
    REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::connecting; }));
    Source again(port);
    REQUIRE(eventually([&] { return again.client != nullptr; }, 15000));
    again.send("0.0,9.0,0.2\n");
    CHECK(eventually([&] { return feed.state() == MeterFeed::State::lit; }));
}

TEST_CASE("nonsense is counted and shown, ten megabytes without an end of line too", "[instruments]") {
    Source source;
    MeterFeed feed;
    feed.open(source.address());
    REQUIRE(eventually([&] { return source.client != nullptr; }));
    source.send("hello\n1,2\n0.0,5.0,0.1\n");
    REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::lit; }));
    CHECK(feed.nonsense_lines() == 2);
    source.send(QByteArray(10'000'000, 'x'));
    REQUIRE(eventually([&] { return feed.nonsense_lines() == 3; }));
    std::vector<MeterSample> got;
    QObject::connect(&feed, &MeterFeed::samplesArrived, [&](const std::vector<MeterSample>& s) { got = s; });
    source.send("\n1.0,6.5,0.1\n");
    REQUIRE(eventually([&] { return !got.empty(); }, 15000));
    CHECK(got.back().volts == Approx(6.5));
}

TEST_CASE("a feed may die while it is connected, with lines on their way", "[instruments]") {
    // The socket outlives some of the feed's members; what it signals then must not reach them.
    for (int i = 0; i < 20; ++i) {
        Source source;
        int heard = 0;
        {
            MeterFeed feed;
            QObject::connect(&feed, &MeterFeed::stateChanged, [&] { ++heard; });
            feed.open(source.address());
            REQUIRE(eventually([&] { return source.client != nullptr; }));
            source.send("0.0,5.0,0.1\n0.02,5.0,0.1\n");
            if (i % 2 == 0)
                REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::lit; }));
        }
        const int heard_alive = heard;
        source.send("0.04,5.0,0.1\n");
        QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
        CHECK(heard == heard_alive);
    }
}

TEST_CASE("what a feed places never goes back in time, though lines come in bursts", "[instruments]") {
    Source source;
    MeterFeed feed;
    std::vector<MeterSample> got;
    QObject::connect(&feed, &MeterFeed::samplesArrived,
                     [&](const std::vector<MeterSample>& s) { got.insert(got.end(), s.begin(), s.end()); });
    feed.open(source.address());
    REQUIRE(eventually([&] { return source.client != nullptr; }));
    for (int burst = 0; burst < 6; ++burst) {
        QByteArray lines;
        for (int i = 0; i < 10; ++i)
            lines += QByteArray::number(0.02 * (10 * burst + i), 'f', 3) + ",5.0,0.1\n";
        source.send(lines);
        const std::size_t wanted = static_cast<std::size_t>(10 * (burst + 1));
        REQUIRE(eventually([&] { return got.size() == wanted; }));
    }
    for (std::size_t i = 1; i < got.size(); ++i)
        CHECK(got[i].t_s > got[i - 1].t_s);
    CHECK(got.back().t_s <= feed.now_s());
}

TEST_CASE("an address that is none is refused at once, in words", "[instruments]") {
    for (const char* address : {"", "nonsense", "host:", ":80", "host:99999", "host:abc"}) {
        MeterFeed feed;
        feed.open(address);
        CAPTURE(address);
        CHECK(feed.state() == MeterFeed::State::idle);
        CHECK_THAT(feed.problem().toStdString(), Catch::Contains("host:port"));
    }
}

TEST_CASE("a source that accepts and hangs up is tried less and less often", "[instruments]") {
    QTcpServer server;
    REQUIRE(server.listen(QHostAddress::LocalHost));
    int accepted = 0;
    QObject::connect(&server, &QTcpServer::newConnection, [&] {
        ++accepted;
        server.nextPendingConnection()->abort();
    });
    MeterFeed feed;
    feed.open(QStringLiteral("127.0.0.1:%1").arg(server.serverPort()));
    QElapsedTimer clock;
    clock.start();
    (void)eventually([&] { return clock.elapsed() > 3500; }, 10000);
    // At 0, 0.25, 0.75, 1.75 and 3.75 s; by the first pause alone it would be fourteen times.
    CHECK(accepted >= 2);
    CHECK(accepted <= 6);
}
