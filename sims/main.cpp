// SPDX-License-Identifier: GPL-3.0-or-later
// eager-hound-sim: simulated instruments as programs of their own.
#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QHostAddress>
#include <cstdio>

#include "core/base/guarded_main.h"
#include "core/base/plain_numbers.h"
#include "core/board/board_json.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/simulation/known_ohms.h"
#include "sims/meter_server.h"
#include "sims/scpi_server.h"
#include "sims/thermal_server.h"

namespace {

int fail(const std::string& sentence) {
    std::fprintf(stderr, "eager-hound-sim: %s\n", sentence.c_str());
    return 1;
}

struct Options {
    std::string topology = "usbc-two-chained";
    std::vector<std::string> faults;
    std::string listen = "127.0.0.1:0";
    bool unplugged = false;
    bool drawn = false;
    eh::sims::BenchMachineOptions machine;
    eh::sims::MeterBenchOptions meter;
};

void add_options(CLI::App& command, Options& options, bool with_meter) {
    command.add_option("--topology", options.topology, "id of the topology");
    command.add_option("--fault", options.faults,
                       "fault@part, fault@part=ohms or fault@part=ohms/volts; may be repeated");
    command.add_option("--seed", options.machine.seed, "draws noise, and part values with --drawn");
    command.add_flag("--drawn", options.drawn, "draw part values and severities instead of the typical ones");
    command.add_flag("--unplugged", options.unplugged, "start with the charger out");
    command.add_option("--listen", options.listen, "address:port; port 0 takes a free one");
    if (!with_meter)
        return;
    command.add_option("--rate", options.meter.rate_hz, "lines a second, 1 to 1000")
        ->check(CLI::Range(1.0, 1000.0));
    command.add_option("--dies-below", options.meter.meter_dies_below_volts,
                       "volts below which the meter goes dark");
}

// Reads the faults into the options; the error is a sentence, empty when all is well.
std::string read_faults(const eh::Knowledge& knowledge, const eh::MachinePlan& plan, Options& options) {
    for (const std::string& text : options.faults) {
        const auto fault = eh::parse_fault_instance(text);
        if (!fault)
            return fault.error().text();
        if (knowledge.catalogue.find(fault->fault) == nullptr)
            return "there is no fault “" + fault->fault + "”";
        if (plan.find_block(fault->block) < 0)
            return "this machine has no part “" + fault->block + "”";
        options.machine.faults.push_back(*fault);
    }
    return {};
}

struct Address {
    QHostAddress host;
    quint16 port = 0;
    bool good = false;
};

Address read_address(const std::string& text) {
    Address address;
    const auto colon = text.rfind(':');
    if (colon == std::string::npos)
        return address;
    bool number = false;
    const int port = QString::fromStdString(text.substr(colon + 1)).toInt(&number);
    address.host = QHostAddress(QString::fromStdString(text.substr(0, colon)));
    address.port = static_cast<quint16>(port);
    address.good = number && port >= 0 && port <= 65535 && !address.host.isNull();
    return address;
}

// Listens and says where; what is the instrument's name in a bench of several, else empty.
template <typename Server>
bool serve(Server& server, const Address& address, const std::string& what) {
    if (!server.listen(address.host, address.port)) {
        fail("cannot listen: " + server.errorString().toStdString());
        return false;
    }
    std::printf("listening %s%s:%u\n", what.empty() ? "" : (what + " ").c_str(),
                address.host.toString().toStdString().c_str(), server.port());
    std::fflush(stdout);
    return true;
}

struct CameraOptions {
    std::string board;
    std::string part;
    double kelvin = 0.3;
    double wide_mm = 64.0;
    eh::sims::ThermalServerOptions server;
};

void add_camera(CLI::App& command, CameraOptions& camera, Options& options) {
    command.add_option("--board", camera.board, "board file or netlist")->required();
    command.add_option("--part", camera.part, "the part that makes heat")->required();
    command.add_option("--kelvin", camera.kelvin, "by how much it swings with the supply")
        ->check(CLI::Range(0.0, 200.0));
    command.add_option("--wide", camera.wide_mm, "millimetres across the picture")
        ->check(CLI::Range(5.0, 500.0));
    command.add_option("--rate", camera.server.rate_hz, "frames a second")->check(CLI::Range(0.5, 30.0));
    command.add_option("--period", camera.server.period_s, "of the supply, on for half of it")
        ->check(CLI::Range(0.5, 60.0));
    command.add_flag("!--silent", camera.server.tells_power, "frames do not say whether the supply is on");
    command.add_option("--seed", options.machine.seed, "draws noise and how shiny parts are");
    command.add_option("--listen", options.listen, "address:port; port 0 takes a free one");
}

// The thermal camera knows a board, no machine.
int look_at_board(const CameraOptions& camera, const Options& options, const Address& address) {
    const auto board = eh::read_board(camera.board);
    if (!board)
        return fail(board.error().text());
    const int part = board->map.find_part(camera.part);
    const auto body = part == eh::no_index ? std::nullopt : eh::body_of(board->map, part);
    if (!body)
        return fail("there is no part “" + camera.part + "” with a place on this board");
    const eh::HeatSceneOptions scene_options;
    const eh::PlaneMap view = eh::camera_over(body->centre(), camera.wide_mm, scene_options);
    QElapsedTimer clock;
    clock.start();
    eh::sims::ThermalServer server(eh::swinging_scene(board->map, part, camera.kelvin, camera.server.period_s,
                                                      view, options.machine.seed, scene_options),
                                   camera.server,
                                   [&clock] { return static_cast<double>(clock.nsecsElapsed()) * 1e-9; });
    return serve(server, address, "") ? QCoreApplication::exec() : 1;
}

int run(int argc, char** argv) {
    QCoreApplication application(argc, argv);
    eh::keep_plain_numbers();
    CLI::App app{"Simulated instruments of Eager Hound"};
    app.require_subcommand(1);
    app.set_version_flag("--version", std::string("eager-hound-sim ") + EH_VERSION);
    Options options;
    auto* meter = app.add_subcommand("meter", "an inline meter between charger and machine");
    auto* dmm = app.add_subcommand("dmm", "a multimeter that speaks SCPI");
    auto* psu = app.add_subcommand("psu", "a bench supply that speaks SCPI");
    auto* bench =
        app.add_subcommand("bench", "meter, multimeter and supply at one machine; free ports are taken");
    auto* thermal =
        app.add_subcommand("thermal", "a thermal camera over a board whose supply goes on and off");
    CameraOptions camera;
    add_camera(*thermal, camera, options);
    add_options(*meter, options, true);
    add_options(*dmm, options, false);
    add_options(*psu, options, false);
    add_options(*bench, options, true);
    CLI11_PARSE(app, argc, argv);

    const Address address = read_address(options.listen);
    if (!address.good)
        return fail("“" + options.listen + "” is not address:port, for instance 127.0.0.1:0");
    if (thermal->parsed())
        return look_at_board(camera, options, address);
    const auto knowledge = eh::load_knowledge(eh::default_data_directory());
    if (!knowledge)
        return fail(knowledge.error().text());
    const eh::Topology* topology = knowledge->find_topology(options.topology);
    if (topology == nullptr)
        return fail("there is no topology “" + options.topology + "”");
    const eh::FittedPlan plan(*knowledge, *topology);
    if (const std::string problem = read_faults(*knowledge, plan, options); !problem.empty())
        return fail(problem);
    options.machine.plugged = !options.unplugged;
    options.machine.typical = !options.drawn;
    options.meter.seed = options.machine.seed;
    const bool all = bench->parsed();
    if (all && address.port != 0)
        return fail("several instruments cannot share a port; leave it 0");

    const auto machine = std::make_shared<eh::sims::BenchMachine>(plan, options.machine);
    QElapsedTimer clock;
    clock.start();
    const auto now_s = [&clock] { return static_cast<double>(clock.nsecsElapsed()) * 1e-9; };
    const auto seed = options.machine.seed;
    eh::sims::MeterServer meter_server(eh::sims::MeterBench(machine, options.meter), now_s);
    eh::sims::ScpiServer dmm_server(std::make_unique<eh::sims::SimulatedMultimeter>(machine, seed), now_s);
    eh::sims::ScpiServer psu_server(std::make_unique<eh::sims::SimulatedSupply>(machine, seed), now_s);
    if ((all || meter->parsed()) && !serve(meter_server, address, all ? "meter" : ""))
        return 1;
    if ((all || dmm->parsed()) && !serve(dmm_server, address, all ? "dmm" : ""))
        return 1;
    if ((all || psu->parsed()) && !serve(psu_server, address, all ? "psu" : ""))
        return 1;
    return QCoreApplication::exec();
}

}  // namespace

int main(int argc, char** argv) {
    return eh::guarded_main("eager-hound-sim", [&] { return run(argc, argv); });
}
