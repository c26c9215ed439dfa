// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/machine/model/bench_configuration.h"

#include <algorithm>
#include <utility>

#include "core/machine/model/topology.h"

namespace eh {

BenchConfiguration electrical_part(BenchConfiguration configuration) {
    configuration.case_open = false;
    configuration.board_out = false;
    if (configuration.charger_connected)
        configuration.bare_plug = false;
    if (configuration.charger_connected && configuration.tester != Tester::none) {
        BenchConfiguration alone;
        alone.charger = configuration.charger;
        alone.lead = configuration.lead;
        alone.port = configuration.port;
        alone.tester = configuration.tester;
        alone.replaced = configuration.replaced;
        alone.handled = configuration.handled;
        alone.lent = configuration.lent;
        alone.second_instruments = configuration.second_instruments;
        return alone;
    }
    configuration.tester = Tester::none;
    if (all_power_is_cut(configuration))
        configuration.power_was_cut = false;
    if (!configuration.charger_connected) {
        configuration.moment = Moment::settled;
        configuration.charger = Owner::bench;
        configuration.lead = Owner::bench;
    }
    if (!configuration.charger_connected && !configuration.bare_plug) {
        configuration.side = PlugSide::a;
        configuration.plug_held = false;
        configuration.port.clear();
    }
    return configuration;
}

bool feeds_machine(const BenchConfiguration& configuration) {
    return configuration.charger_connected && configuration.tester == Tester::none;
}

BenchConfiguration plugged_as_usual(BenchConfiguration configuration) {
    configuration.power_was_cut = configuration.power_was_cut || all_power_is_cut(configuration);
    configuration.charger_connected = true;
    configuration.injection.reset();
    configuration.tester = Tester::none;
    configuration.bare_plug = false;
    configuration.plug_held = false;
    configuration.button = Button::left_alone;
    configuration.moment = Moment::settled;
    return configuration;
}

BenchConfiguration plugged_into(const Topology& topology, BenchConfiguration configuration) {
    BenchConfiguration plugged = plugged_as_usual(std::move(configuration));
    if (topology.find_port(plugged.port) == nullptr)
        plugged.port = topology.ports.front().id;
    return plugged;
}

BenchConfiguration unpowered(BenchConfiguration configuration) {
    configuration.charger_connected = false;
    configuration.battery_in = false;
    configuration.tester = Tester::none;
    configuration.button = Button::left_alone;
    configuration.injection.reset();
    configuration.power_was_cut = true;
    return configuration;
}

bool all_power_is_cut(const BenchConfiguration& configuration) {
    return !configuration.charger_connected && !configuration.battery_in;
}

void note_work(BenchConfiguration& configuration, const std::string& block, Work work) {
    erase_block(configuration.removed, block);
    if (work == Work::remove) {
        insert_block(configuration.removed, block);
    } else if (has_one_remedy(work)) {
        const Handling done{block, work};
        const auto place = std::lower_bound(configuration.handled.begin(), configuration.handled.end(), done);
        if (place == configuration.handled.end() || *place != done)
            configuration.handled.insert(place, done);
    } else if (work != Work::reflow && work != Work::explain) {
        insert_block(configuration.replaced, block);
    }
}

void insert_block(std::vector<std::string>& list, const std::string& block) {
    const auto place = std::lower_bound(list.begin(), list.end(), block);
    if (place == list.end() || *place != block)
        list.insert(place, block);
}

void erase_block(std::vector<std::string>& list, const std::string& block) {
    list.erase(std::remove(list.begin(), list.end(), block), list.end());
}

}  // namespace eh
