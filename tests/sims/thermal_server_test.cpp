// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated camera over its wire, as the program sees it.
#include "sims/thermal_server.h"

#include <QTcpServer>
#include <QTcpSocket>
#include <catch2/catch.hpp>

#include "core/board/part_body.h"
#include "core/thermal/heat_search.h"
#include "core/thermal/lock_in.h"
#include "core/thermal/rhythm.h"
#include "instruments/thermal_camera.h"
#include "tests/support/event_loop.h"

using namespace eh;
using namespace eh::sims;
using test::eventually;

namespace {

BoardMap nine_capacitors() {
    BoardMap map;
    for (int i = 0; i < 9; ++i) {
        Pad pad;
        pad.net = map.net_named("rail");
        pad.part = map.part_named("C" + std::to_string(i + 1));
        pad.width_mm = pad.height_mm = 0.8;
        pad.place = Point{10.0 + 5.0 * (i % 3), 10.0 + 5.0 * (i / 3)};
        map.add_pad(pad);
        pad.net = map.net_named("gnd");
        pad.place->x_mm += 1.6;
        map.add_pad(pad);
    }
    map.index();
    return map;
}

QString address_of(quint16 port) {
    return QStringLiteral("127.0.0.1:%1").arg(port);
}

}  // namespace

TEST_CASE("frames arrive with their times and the supply's rhythm, and name the part", "[sims][thermal]") {
    const BoardMap map = nine_capacitors();
    const HeatSceneOptions options;
    const int part = map.find_part("C5");
    const PlaneMap view = camera_over(body_of(map, part)->centre(), 40.0, options);
    // A clock that runs twenty times as fast: half a minute of camera in a second and a half.
    QElapsedTimer clock;
    clock.start();
    ThermalServerOptions served;
    served.rate_hz = 100.0;
    served.period_s = 4.0;
    ThermalServer server(swinging_scene(map, part, 0.3, served.period_s, view, 3, options), served,
                         [&clock] { return 0.02 * static_cast<double>(clock.elapsed()); });
    REQUIRE(server.listen(QHostAddress::LocalHost, 0));
    ThermalCamera camera;
    std::vector<ThermalFrame> frames;
    QObject::connect(&camera, &ThermalCamera::frameArrived,
                     [&](const ThermalFrame& frame) { frames.push_back(frame); });
    camera.open(address_of(server.port()));
    REQUIRE(eventually([&] { return !frames.empty() && *frames.back().t_s > 24.0; }));
    CHECK(camera.answers());
    CHECK(camera.problem().isEmpty());
    const Rhythm rhythm = Rhythm::of_frames(frames);
    REQUIRE_FALSE(rhythm.empty());
    CHECK(rhythm.period_s() == Approx(4.0).epsilon(0.1));
    LockIn lock_in(options.width, options.height);
    for (const ThermalFrame& frame : frames)
        if (const auto cycles = rhythm.cycles_at(*frame.t_s))
            lock_in.add(frame, *cycles, *frame.t_s);
    const auto image = lock_in.image();
    REQUIRE(image.ok());
    const auto answer = search_heat(map, image->heat, view);
    REQUIRE(answer.ok());
    REQUIRE_FALSE(answer->candidates.empty());
    CHECK(map.part(answer->candidates[0].part).name == "C5");
}

TEST_CASE("a camera that sends something else, nothing, or goes away is told so and tried again",
          "[instruments][thermal]") {
    QTcpServer server;
    REQUIRE(server.listen(QHostAddress::LocalHost, 0));
    QTcpSocket* client = nullptr;
    int connections = 0;
    QObject::connect(&server, &QTcpServer::newConnection, [&] {
        client = server.nextPendingConnection();
        ++connections;
    });
    ThermalCamera camera;
    camera.open(address_of(server.serverPort()));
    REQUIRE(eventually([&] { return client != nullptr && camera.wire().state() == Wire::State::open; }));
    CHECK(camera.problem().contains("sends no frames"));
    client->write("GIF89a this is no frame");
    REQUIRE(eventually([&] { return camera.problem().contains("no thermal frame"); }));
    REQUIRE(eventually([&] { return connections >= 2; }));
    // Half a frame and then gone; the next connection starts with a whole one.
    const std::string whole = write_pgm({2, 1, {20.0F, 30.0F}, {}, {}}, {0.01, -273.15});
    client->write(whole.data(), static_cast<qint64>(whole.size()) - 1);
    client->disconnectFromHost();
    REQUIRE(eventually([&] { return connections >= 3; }));
    client->write(whole.data(), static_cast<qint64>(whole.size()));
    REQUIRE(eventually([&] { return camera.frames() == 1; }));
    CHECK(camera.answers());
}
