// eager-hound-sim: simulated instruments as programs of their own.
#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <QHostAddress>
#include <cstdio>

#include "sims/meter_server.h"

namespace {

int fail(const std::string& sentence) {
    std::fprintf(stderr, "eager-hound-sim: %s\n", sentence.c_str());
    return 1;
}

}  // namespace

int main(int argc, char** argv) {
    QCoreApplication application(argc, argv);
    CLI::App app{"Simulated instruments of Eager Hound"};
    app.require_subcommand(1);
    auto* meter = app.add_subcommand("meter", "an inline meter between charger and machine");
    std::string topology_id = "usbc-two-chained";
    std::vector<std::string> fault_texts;
    std::string listen = "127.0.0.1:0";
    eh::sims::MeterBenchOptions options;
    bool unplugged = false;
    bool drawn = false;
    meter->add_option("--topology", topology_id, "id of the topology");
    meter->add_option("--fault", fault_texts,
                      "fault@part, fault@part=ohms or fault@part=ohms/volts; may be repeated");
    meter->add_option("--seed", options.seed, "draws noise, and part values with --drawn");
    meter->add_flag("--drawn", drawn, "draw part values and severities instead of the typical ones");
    meter->add_option("--rate", options.rate_hz, "lines a second, 1 to 1000")->check(CLI::Range(1.0, 1000.0));
    meter->add_option("--dies-below", options.meter_dies_below_volts,
                      "volts below which the meter goes dark");
    meter->add_option("--listen", listen, "address:port; port 0 takes a free one");
    meter->add_flag("--unplugged", unplugged, "start with the charger out");
    CLI11_PARSE(app, argc, argv);

    const auto knowledge = eh::load_knowledge(eh::default_data_directory());
    if (!knowledge)
        return fail(knowledge.error().text());
    const eh::Topology* topology = knowledge->find_topology(topology_id);
    if (topology == nullptr)
        return fail("there is no topology “" + topology_id + "”");
    const eh::MachinePlan plan(*knowledge, *topology);
    for (const std::string& text : fault_texts) {
        const auto fault = eh::parse_fault_instance(text);
        if (!fault)
            return fail(fault.error().text());
        if (knowledge->catalogue.find(fault->fault) == nullptr)
            return fail("there is no fault “" + fault->fault + "”");
        if (plan.find_block(fault->block) < 0)
            return fail("this machine has no part “" + fault->block + "”");
        options.faults.push_back(*fault);
    }
    options.plugged = !unplugged;
    options.typical = !drawn;

    const auto colon = listen.rfind(':');
    const QHostAddress address(QString::fromStdString(listen.substr(0, colon)));
    bool number = false;
    const int port =
        colon == std::string::npos ? -1 : QString::fromStdString(listen.substr(colon + 1)).toInt(&number);
    if (address.isNull() || !number || port < 0 || port > 65535)
        return fail("“" + listen + "” is not address:port, for instance 127.0.0.1:0");
    eh::sims::MeterServer server(eh::sims::MeterBench(plan, options), options.rate_hz);
    if (!server.listen(address, static_cast<quint16>(port)))
        return fail("cannot listen on " + listen + ": " + server.errorString().toStdString());
    std::printf("listening %s:%u\n", address.toString().toStdString().c_str(), server.port());
    std::fflush(stdout);
    return QCoreApplication::exec();
}
