// SPDX-License-Identifier: GPL-3.0-or-later
// Multimeter and supply over TCP and over a pair of pseudo-terminals, with instruments that behave and that
// do not.
#include <pty.h>
#include <unistd.h>

#include <QSignalSpy>
#include <QSocketNotifier>
#include <QTcpServer>
#include <functional>

#include "core/machine/simulation/known_ohms.h"
#include "instruments/bench_supply.h"
#include "instruments/meter_feed.h"
#include "instruments/multimeter.h"
#include "sims/scpi_server.h"
#include "tests/support/event_loop.h"
#include "tests/support/shop.h"

using namespace eh;
using namespace eh::test;

namespace {

// An instrument by hand: what it answers to each line is a function.
struct Odd {
    using Answer = std::function<QByteArray(const QByteArray& line)>;
    QTcpServer server;
    QTcpSocket* client = nullptr;
    QByteArrayList heard;
    Answer answer;

    explicit Odd(Answer how, quint16 port = 0) : answer(std::move(how)) {
        REQUIRE(server.listen(QHostAddress::LocalHost, port));
        QObject::connect(&server, &QTcpServer::newConnection, [this] {
            client = server.nextPendingConnection();
            QObject::connect(client, &QTcpSocket::readyRead, [this, own = client] {
                while (own->canReadLine()) {
                    heard << own->readLine().trimmed();
                    const QByteArray reply = answer(heard.last());
                    if (!reply.isEmpty())
                        own->write(reply + '\n');
                }
            });
        });
    }
    QString address() const { return QStringLiteral("127.0.0.1:%1").arg(server.serverPort()); }
    int count(const QByteArray& line) const { return static_cast<int>(heard.count(line)); }
};

// A supply with a memory, and nothing behind it.
struct PlainSupply {
    QByteArray volts = "0";
    QByteArray amps = "0";
    bool on = false;
    bool deaf = false;       // does not do what it is told
    QByteArray measures;     // when set, all that its meters say
    QByteArray takes_volts;  // when set, it stands at these whatever it is told

    QByteArray operator()(const QByteArray& line) {
        if (line == "*IDN?")
            return "Somebody,supply,0,1";
        if (line.startsWith("VOLT "))
            volts = takes_volts.isEmpty() ? line.mid(5) : takes_volts;
        if (line.startsWith("CURR "))
            amps = line.mid(5);
        if (line.startsWith("OUTP ") && !deaf)
            on = line == "OUTP ON";
        if (line == "OUTP?")
            return on ? "1" : "0";
        if (line.startsWith("MEAS") && !measures.isEmpty())
            return measures;
        if (line == "VOLT?" || line == "MEAS:VOLT:DC?")
            return volts;
        if (line == "CURR?" || line == "MEAS:CURR?")
            return amps;
        return line == "SYST:ERR?" ? QByteArray("0,\"No error\"") : QByteArray();
    }
};

const SupplyBounds free_rail{"the 3.3 V rail", 3.3, 5.0, false, false};

}  // namespace

TEST_CASE("the supply goes on by an explicit act only, as set, and off when it is told", "[instruments]") {
    PlainSupply plain;
    Odd odd([&](const QByteArray& line) { return plain(line); });
    BenchSupply supply;
    supply.line().open(odd.address());
    REQUIRE(eventually([&] { return supply.line().ready(); }));
    // However it was left, it starts off.
    REQUIRE(eventually([&] { return odd.count("OUTP OFF") >= 1; }));
    CHECK(supply.output() == BenchSupply::Output::off);
    CHECK(odd.count("OUTP ON") == 0);
    REQUIRE(supply.switchOn(1.0, 2.0, free_rail).ok());
    REQUIRE(eventually([&] { return supply.output() == BenchSupply::Output::on; }));
    REQUIRE(eventually([&] { return supply.amps().has_value(); }));
    CHECK(plain.on);
    CHECK(*supply.volts() == Approx(1.0));
    CHECK_FALSE(supply.limits());
    supply.switchOff("enough");
    REQUIRE(eventually([&] { return !plain.on; }));
    CHECK(supply.why_off() == "enough");
    CHECK_FALSE(supply.amps());
}

TEST_CASE("what would harm the machine is refused and nothing is sent", "[instruments]") {
    PlainSupply plain;
    Odd odd([&](const QByteArray& line) { return plain(line); });
    BenchSupply supply;
    CHECK_FALSE(supply.switchOn(1.0, 1.0, free_rail).ok());  // not connected
    supply.line().open(odd.address());
    REQUIRE(eventually([&] { return supply.line().ready() && supply.line().waiting() == 0; }));
    SupplyBounds battery = free_rail;
    battery.battery_connected = true;
    SupplyBounds charger = free_rail;
    charger.charger_connected = true;
    CHECK_THAT(supply.switchOn(1.0, 1.0, battery).error().message, Catch::Contains("battery"));
    CHECK_THAT(supply.switchOn(1.0, 1.0, charger).error().message, Catch::Contains("charger"));
    CHECK_THAT(supply.switchOn(3.4, 1.0, free_rail).error().message, Catch::Contains("3.3 V"));
    CHECK_FALSE(supply.switchOn(0.0, 1.0, free_rail).ok());
    CHECK_FALSE(supply.switchOn(-1.0, 1.0, free_rail).ok());
    CHECK_FALSE(supply.switchOn(1.0, 5.1, free_rail).ok());
    CHECK_FALSE(supply.switchOn(std::nan(""), 1.0, free_rail).ok());
    QCoreApplication::processEvents(QEventLoop::AllEvents, 50);
    CHECK(odd.count("OUTP ON") == 0);
    CHECK(supply.output() == BenchSupply::Output::off);
}

TEST_CASE("a supply that does not take what it is told is not switched on", "[instruments]") {
    PlainSupply plain;
    plain.takes_volts = "12";
    Odd odd([&](const QByteArray& line) { return plain(line); });
    BenchSupply supply;
    QSignalSpy said(&supply, &BenchSupply::said);
    supply.line().open(odd.address());
    REQUIRE(eventually([&] { return supply.line().ready(); }));
    REQUIRE(supply.switchOn(1.0, 1.0, free_rail).ok());
    REQUIRE(eventually([&] { return said.count() == 1; }));
    CHECK(supply.output() == BenchSupply::Output::off);
    CHECK(odd.count("OUTP ON") == 0);
}

TEST_CASE("volts above the net's own switch the output off", "[instruments]") {
    PlainSupply plain;
    Odd odd([&](const QByteArray& line) { return plain(line); });
    BenchSupply supply;
    QSignalSpy said(&supply, &BenchSupply::said);
    supply.line().open(odd.address());
    REQUIRE(eventually([&] { return supply.line().ready(); }));
    REQUIRE(supply.switchOn(3.0, 1.0, free_rail).ok());
    REQUIRE(eventually([&] { return supply.output() == BenchSupply::Output::on; }));
    plain.volts = "5.0";
    REQUIRE(eventually([&] { return supply.output() == BenchSupply::Output::off; }));
    CHECK(said.count() == 1);
    REQUIRE(eventually([&] { return !plain.on; }));
}

TEST_CASE("a supply that goes while it is on is said to be, and is off when it comes back", "[instruments]") {
    PlainSupply plain;
    auto odd = std::make_unique<Odd>([&](const QByteArray& line) { return plain(line); });
    const quint16 port = odd->server.serverPort();
    BenchSupply supply;
    QSignalSpy said(&supply, &BenchSupply::said);
    supply.line().open(odd->address());
    REQUIRE(eventually([&] { return supply.line().ready(); }));
    REQUIRE(supply.switchOn(1.0, 1.0, free_rail).ok());
    REQUIRE(eventually([&] { return plain.on; }));
    odd->client->abort();
    odd.reset();
    REQUIRE(eventually([&] { return supply.output() == BenchSupply::Output::unknown; }));
    CHECK(said.count() == 1);
    CHECK_FALSE(supply.line().problem().isEmpty());
    Odd again([&](const QByteArray& line) { return plain(line); }, port);
    REQUIRE(eventually([&] { return !plain.on && supply.line().ready(); }, 15000));
    CHECK(supply.output() == BenchSupply::Output::off);
    CHECK(again.count("OUTP ON") == 0);  // not by itself
}

TEST_CASE("the output is off when the program lets the supply go", "[instruments]") {
    PlainSupply plain;
    Odd odd([&](const QByteArray& line) { return plain(line); });
    {
        BenchSupply supply;
        supply.line().open(odd.address());
        REQUIRE(eventually([&] { return supply.line().ready(); }));
        REQUIRE(supply.switchOn(1.0, 1.0, free_rail).ok());
        REQUIRE(eventually([&] { return plain.on; }));
    }
    CHECK(eventually([&] { return !plain.on; }));
}

TEST_CASE("an instrument that never answers is given up, in words, and tried again", "[instruments]") {
    Odd odd([](const QByteArray& line) { return line == "*IDN?" ? QByteArray("A,b,c,d") : QByteArray(); });
    Multimeter dmm;
    dmm.watch(MultimeterFunction::ohms);
    dmm.line().open(odd.address());
    REQUIRE(eventually([&] { return dmm.line().ready(); }));
    REQUIRE(eventually([&] { return !dmm.line().problem().isEmpty(); }));
    CHECK_THAT(dmm.line().problem().toStdString(), Catch::Contains("did not answer"));
    CHECK(eventually([&] { return dmm.line().ready(); }));
}

TEST_CASE("what is no measuring instrument is said to be none", "[instruments]") {
    Odd odd([](const QByteArray&) { return QByteArray("HTTP/1.1 400 Bad Request"); });
    Multimeter dmm;
    dmm.line().open(odd.address());
    REQUIRE(eventually([&] { return !dmm.line().problem().isEmpty(); }));
    CHECK_THAT(dmm.line().problem().toStdString(), Catch::Contains("measuring instrument"));
    CHECK_FALSE(dmm.line().ready());
}

TEST_CASE("wrong answers are no values, and an order that is refused is said", "[instruments]") {
    Odd odd([](const QByteArray& line) -> QByteArray {
        if (line == "*IDN?")
            return "Eager Hound,odd,0,0";
        if (line == "SYST:ERR?")
            return "-224,\"Illegal parameter value\"";
        return line.endsWith("?") ? "what?" : "";
    });
    Multimeter dmm;
    QSignalSpy refused(&dmm.line(), &ScpiLine::refused);
    QSignalSpy measured(&dmm, &Multimeter::measured);
    dmm.line().open(odd.address());
    REQUIRE(eventually([&] { return dmm.line().ready(); }));
    dmm.watch(MultimeterFunction::volts);
    REQUIRE(eventually([&] { return odd.count("MEAS:VOLT:DC?") >= 2; }));
    CHECK(measured.count() == 0);
    CHECK_FALSE(dmm.value());
}

TEST_CASE("an answer that comes too late is not taken for the next one's", "[instruments]") {
    Odd odd([](const QByteArray& line) { return line == "*IDN?" ? QByteArray("A,b,c,d") : QByteArray(); });
    Multimeter dmm;
    dmm.line().open(odd.address());
    REQUIRE(eventually([&] { return dmm.line().ready(); }));
    std::vector<double> values;
    QObject::connect(&dmm, &Multimeter::measured, [&](double value) { values.push_back(value); });
    dmm.watch(MultimeterFunction::ohms);
    REQUIRE(eventually([&] { return odd.count("MEAS:RES?") == 1; }));
    QTcpSocket* late = odd.client;
    REQUIRE(eventually([&] { return !dmm.line().ready(); }));
    late->write("111.0\n");
    dmm.watch(MultimeterFunction::volts);
    odd.answer = [](const QByteArray& line) -> QByteArray {
        return line == "*IDN?" ? "A,b,c,d" : line == "MEAS:VOLT:DC?" ? "3.3" : "";
    };
    REQUIRE(eventually([&] { return !values.empty(); }));
    CHECK(values == std::vector<double>{3.3});
}

TEST_CASE("a simulated bench over TCP: injecting and probing agree", "[instruments]") {
    const FittedPlan plan(shipped_knowledge(), topology(chained));
    sims::BenchMachineOptions options;
    options.faults = {{"capacitor_shorted", "cm", 1.5}};
    options.plugged = false;
    const auto machine = std::make_shared<sims::BenchMachine>(plan, options);
    machine->command("battery out", 0.0);
    const auto now_s = [] { return 5.0; };
    sims::ScpiServer dmm_server(std::make_unique<sims::SimulatedMultimeter>(machine, 1), now_s);
    sims::ScpiServer psu_server(std::make_unique<sims::SimulatedSupply>(machine, 1), now_s);
    REQUIRE(dmm_server.listen(QHostAddress::LocalHost, 0));
    REQUIRE(psu_server.listen(QHostAddress::LocalHost, 0));
    Multimeter dmm;
    BenchSupply supply;
    dmm.line().open(QStringLiteral("127.0.0.1:%1").arg(dmm_server.port()));
    supply.line().open(QStringLiteral("127.0.0.1:%1").arg(psu_server.port()));
    REQUIRE(eventually([&] { return dmm.line().ready() && supply.line().ready(); }));
    CHECK(dmm.line().simulated());
    dmm.putProbe("main");
    dmm.watch(MultimeterFunction::ohms);
    REQUIRE(eventually([&] { return dmm.value().has_value(); }));
    const double ohms = *dmm.value();
    CHECK(ohms == Approx(1.5).margin(0.2));
    supply.putClip("main");
    REQUIRE(supply.switchOn(1.0, 3.0, {"the system rail", 8.0, 5.0, false, false}).ok());
    REQUIRE(eventually([&] { return supply.amps().value_or(0.0) > 0.05; }));
    dmm.watch(MultimeterFunction::volts);
    REQUIRE(eventually([&] { return dmm.value().has_value(); }));
    CHECK(*dmm.value() == Approx(*supply.volts()).margin(0.12));
    CHECK(*supply.volts() / *supply.amps() == Approx(ohms).epsilon(0.08));
    CHECK(supply.line().problem().isEmpty());
}

TEST_CASE("a meter and a multimeter on serial lines: a pair of pseudo-terminals", "[instruments]") {
    int instrument = -1;
    int program = -1;
    char name[128] = {};
    REQUIRE(openpty(&instrument, &program, name, nullptr, nullptr) == 0);
    termios raw{};
    tcgetattr(program, &raw);
    cfmakeraw(&raw);
    tcsetattr(program, TCSANOW, &raw);
    const auto send = [&](const QByteArray& bytes) {
        return ::write(instrument, bytes.constData(), static_cast<std::size_t>(bytes.size())) == bytes.size();
    };
    SECTION("the meter's lines become samples, and a line that goes is said to be gone") {
        MeterFeed feed;
        std::vector<MeterSample> got;
        QObject::connect(&feed, &MeterFeed::samplesArrived, [&](const std::vector<MeterSample>& s) {
            got.insert(got.end(), s.begin(), s.end());
        });
        feed.open(QString::fromUtf8(name) + "@9600");
        REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::connecting; }));
        REQUIRE(eventually([&] {
            (void)send("0.00,20.01,1.50\r\n0.02,20.02,1.51\r\n");
            return got.size() >= 2;
        }));
        CHECK(got.front().volts == Approx(20.01));
        CHECK(feed.state() == MeterFeed::State::lit);
        ::close(program);
        ::close(instrument);
        REQUIRE(eventually([&] { return feed.state() == MeterFeed::State::connecting; }));
        CHECK_THAT(feed.problem().toStdString(), Catch::Contains("serial line"));
        return;
    }
    SECTION("questions and answers") {
        QByteArray heard;
        QSocketNotifier notifier(instrument, QSocketNotifier::Read);
        QObject::connect(&notifier, &QSocketNotifier::activated, [&] {
            char bytes[256];
            const auto count = ::read(instrument, bytes, sizeof bytes);
            heard.append(bytes, std::max<qsizetype>(0, count));
            for (qsizetype end; (end = heard.indexOf('\n')) >= 0; heard.remove(0, end + 1)) {
                const QByteArray line = heard.left(end).trimmed();
                if (line == "*IDN?")
                    (void)send("Somebody,meter,1,2\n");
                if (line == "MEAS:RES?")
                    (void)send("+9.9E37\n");
            }
        });
        Multimeter dmm;
        dmm.watch(MultimeterFunction::ohms);
        dmm.line().open(QString::fromUtf8(name));
        REQUIRE(eventually([&] { return dmm.value().has_value(); }));
        CHECK(std::isinf(*dmm.value()));
        CHECK(dmm.line().identity() == "Somebody,meter,1,2");
    }
    ::close(program);
    ::close(instrument);
}

TEST_CASE("a serial line that is not there is said so, and an address that is none", "[instruments]") {
    Multimeter dmm;
    dmm.line().open("/dev/eh-no-such-line");
    REQUIRE(eventually([&] { return !dmm.line().problem().isEmpty(); }));
    CHECK_THAT(dmm.line().problem().toStdString(), Catch::Contains("cannot be opened"));
    dmm.line().open("/dev/ttyUSB0@fast");
    CHECK_THAT(dmm.line().problem().toStdString(), Catch::Contains("no serial line"));
    CHECK(dmm.line().state() == Wire::State::closed);
}

namespace {

// A supply that is on at 1 V.
struct RunningSupply {
    PlainSupply plain;
    Odd odd{[this](const QByteArray& line) { return plain(line); }};
    BenchSupply supply;
    QSignalSpy said{&supply, &BenchSupply::said};

    RunningSupply() {
        supply.line().open(odd.address());
        REQUIRE(eventually([&] { return supply.line().ready(); }));
        REQUIRE(supply.switchOn(1.0, 1.0, free_rail).ok());
        REQUIRE(eventually([&] { return supply.amps().has_value(); }));
    }
};

}  // namespace

TEST_CASE("a trip is a trip: asked, said, and not taken for the limit", "[instruments]") {
    RunningSupply r;
    SECTION("the supply says that it is off") {
        r.plain.on = false;
    }
    SECTION("it gives nothing and says that it is on") {
        r.plain.measures = "0.000";
    }
    REQUIRE(eventually([&] { return r.supply.output() == BenchSupply::Output::off; }));
    CHECK_FALSE(r.supply.limits());
    CHECK_THAT(r.supply.why_off().toStdString(), Catch::Contains("tripped"));
    CHECK(r.said.count() == 1);
}

TEST_CASE("a supply without a number is not left on unwatched", "[instruments]") {
    RunningSupply r;
    r.plain.measures = GENERATE("", "what?", "9.91E37", "9.9E37");
    if (r.plain.measures.isEmpty())
        r.plain.measures = " ";
    REQUIRE(eventually([&] { return r.supply.output() == BenchSupply::Output::off; }));
    CHECK_THAT(r.supply.why_off().toStdString(), Catch::Contains("watch"));
    REQUIRE(eventually([&] { return !r.plain.on; }));
}

TEST_CASE("a supply that does not do what it is told is not believed to", "[instruments]") {
    RunningSupply r;
    SECTION("off") {
        r.plain.deaf = true;
        r.supply.switchOff("enough");
        REQUIRE(eventually([&] { return r.supply.output() == BenchSupply::Output::unknown; }));
        CHECK_THAT(r.supply.why_off().toStdString(), Catch::Contains("itself"));
        // Letting the connection go does not make it off.
        r.supply.close();
        CHECK(r.supply.output() == BenchSupply::Output::unknown);
    }
    SECTION("on") {
        r.supply.switchOff("enough");
        REQUIRE(eventually([&] { return r.supply.line().waiting() == 0; }));
        r.plain.deaf = true;
        REQUIRE(r.supply.switchOn(1.0, 1.0, free_rail).ok());
        REQUIRE(eventually([&] { return r.supply.output() == BenchSupply::Output::off; }));
        CHECK_THAT(r.supply.why_off().toStdString(), Catch::Contains("did not go on"));
    }
}

TEST_CASE("an output that an earlier run left on is unknown until the supply says otherwise",
          "[instruments]") {
    PlainSupply plain;
    plain.on = true;
    Odd odd([&](const QByteArray& line) { return plain(line); });
    BenchSupply supply;
    supply.assumeLeftOn();
    CHECK(supply.output() == BenchSupply::Output::unknown);
    supply.line().open(odd.address());
    REQUIRE(
        eventually([&] { return supply.output() == BenchSupply::Output::off && odd.count("OUTP?") > 0; }));
    CHECK_FALSE(plain.on);
}

TEST_CASE("a second line in one batch is not the answer to what is asked meanwhile", "[instruments]") {
    QTcpServer server;
    REQUIRE(server.listen(QHostAddress::LocalHost));
    ScpiLine line;
    QByteArrayList answers;
    QObject::connect(&line, &ScpiLine::identified, [&] {
        line.ask("FIRST?", [&](const QByteArray& first) {
            answers << first;
            line.ask("SECOND?", [&](const QByteArray& second) { answers << second; });
        });
    });
    line.open(QStringLiteral("127.0.0.1:%1").arg(server.serverPort()));
    REQUIRE(eventually([&] { return server.hasPendingConnections(); }));
    QTcpSocket* client = server.nextPendingConnection();
    const auto reply = [client] {
        while (client->canReadLine()) {
            const QByteArray asked = client->readLine().trimmed();
            if (asked == "*IDN?")
                client->write("Somebody,meter,0,1\n");
            else if (asked == "FIRST?")
                client->write("first\nlate and unasked\n");
            else if (asked == "SECOND?")
                client->write("second\n");
        }
    };
    QObject::connect(client, &QTcpSocket::readyRead, reply);
    reply();  // what has arrived already
    REQUIRE(eventually([&] { return answers.size() == 2; }));
    CHECK(answers == QByteArrayList{"first", "second"});
}
