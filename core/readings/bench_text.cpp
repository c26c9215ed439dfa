// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/bench_text.h"

#include <vector>

#include "core/electrics/engineering.h"

namespace eh {
namespace {

std::string titles(const Topology& topology, const std::vector<std::string>& blocks) {
    std::string list;
    for (const std::string& id : blocks)
        list += (list.empty() ? "" : ", ") + title_of_block(topology, id);
    return list;
}

std::string at_tester(const BenchConfiguration& configuration) {
    const auto whose = [](Owner owner) { return owner == Owner::customer ? "customer's " : "shop's "; };
    return std::string(whose(configuration.charger)) + "charger, " + whose(configuration.lead) +
           (configuration.tester == Tester::loaded ? "lead, at a load tester" : "lead, nothing plugged in");
}

std::string bare_plug_in(const BenchConfiguration& configuration, const Topology& topology) {
    const Port* port = topology.find_port(configuration.port);
    std::string text = ", bare plug in " + (port == nullptr ? configuration.port : port->title);
    if (port != nullptr && port->family == "usb-c")
        text += configuration.side == PlugSide::a ? ", side A" : ", side B";
    return text;
}

}  // namespace

std::string title_of_net(const Topology& topology, const std::string& id) {
    const Net* net = topology.find_net(id);
    return net == nullptr ? id : net->title;
}

std::string title_of_block(const Topology& topology, const std::string& id) {
    const Block* block = topology.find_block(id);
    return block == nullptr ? id : block->title;
}

std::string describe(const BenchConfiguration& configuration, const Topology& topology) {
    std::string text;
    if (configuration.charger_connected && configuration.tester != Tester::none)
        return at_tester(configuration);
    if (configuration.charger_connected) {
        const Port* port = topology.find_port(configuration.port);
        text = port == nullptr ? configuration.port : port->title;
        if (port != nullptr && port->family == "usb-c")
            text += configuration.side == PlugSide::a ? ", side A" : ", side B";
        if (configuration.charger == Owner::customer)
            text += ", customer's charger";
        if (configuration.lead == Owner::customer)
            text += ", customer's lead";
        if (configuration.plug_held)
            text += ", plug held to its good side";
    } else {
        text = "No charger";
        if (configuration.bare_plug)
            text += bare_plug_in(configuration, topology);
    }
    if (configuration.injection)
        text = format_quantity(configuration.injection->volts, Unit::volts) + ", at most " +
               format_quantity(configuration.injection->limit_amps, Unit::amps) + ", into " +
               title_of_net(topology, configuration.injection->net);
    text += configuration.battery_in ? ", battery in" : ", battery out";
    if (configuration.moment == Moment::at_once)
        text += ", in the first seconds";
    if (configuration.button == Button::pressed)
        text += ", power pressed";
    if (configuration.button == Button::kept_off)
        text += ", machine switched off";
    if (!configuration.removed.empty())
        text += ", without: " + titles(topology, configuration.removed);
    if (!configuration.replaced.empty())
        text += ", after work on: " + titles(topology, configuration.replaced);
    for (const Handling& done : configuration.handled)
        text += ", " + title_of_block(topology, done.block) + " " + to_past(done.work);
    if (!configuration.lent.empty())
        text += ", known-good for: " + titles(topology, configuration.lent);
    if (configuration.second_instruments)
        text += ", second instruments";
    return text;
}

std::string net_and_work(const std::string& net, const BenchConfiguration& bench, const Topology& topology) {
    std::string text = title_of_net(topology, net);
    if (bench.bare_plug && !bench.charger_connected)
        text += " at the plug";
    if (!bench.removed.empty() || !bench.replaced.empty() || !bench.handled.empty())
        text += " (" + describe(bench, topology) + ")";
    return text;
}

}  // namespace eh
