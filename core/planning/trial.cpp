// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/trial.h"

#include <algorithm>
#include <set>
#include <tuple>

#include "core/machine/model/net_index.h"

namespace eh {
namespace {

bool has_pin_on(const MachinePlan& plan, int block, const std::string& net) {
    const int index = net_index(plan.topology(), net);
    if (index < 0)
        return false;
    const int node = plan.net_nodes[static_cast<std::size_t>(index)];
    const auto& pins = plan.blocks[static_cast<std::size_t>(block)].pin_nodes;
    return std::any_of(pins.begin(), pins.end(), [&](const auto& pin) { return pin.second == node; });
}

bool is_lent(const MachinePlan& plan, int block, const BenchConfiguration& configuration) {
    const auto& lent = configuration.lent;
    return std::binary_search(lent.begin(), lent.end(), plan.blocks[static_cast<std::size_t>(block)].id);
}

}  // namespace

bool is_at_part(ReadingKind kind, const std::string& place, const BenchConfiguration& configuration,
                const MachinePlan& plan, int block) {
    switch (kind) {
        case ReadingKind::net_volts:
        case ReadingKind::net_ohms:
        case ReadingKind::diode:
            return has_pin_on(plan, block, place);
        case ReadingKind::injection:
            return configuration.injection && has_pin_on(plan, block, configuration.injection->net);
        case ReadingKind::through:
            return place == plan.blocks[static_cast<std::size_t>(block)].id;
        case ReadingKind::hot_part:
            // Of what is plugged in and not soldered, its own heat tells nothing.
            return plan.blocks[static_cast<std::size_t>(block)].kind->remove_minutes.has_value();
        case ReadingKind::firmware:
            // What the machine says is the processor side's own word.
            return block == plan.mainboard || is_lent(plan, block, configuration);
        case ReadingKind::meter:
            return is_lent(plan, block, configuration);
        case ReadingKind::talk: {
            const int port = plan.port_index(configuration.port);
            return port >= 0 && plan.controller_of_port[static_cast<std::size_t>(port)] == block;
        }
        case ReadingKind::between: {
            const auto nets = Traits<BetweenReading>::at(place);
            return has_pin_on(plan, block, nets.net) && has_pin_on(plan, block, nets.other);
        }
        case ReadingKind::pack:
            return block == plan.pack;
        case ReadingKind::wiggle:
        case ReadingKind::sign:
        case ReadingKind::look:
        case ReadingKind::board_look:
            break;
    }
    return false;
}

bool was_taken_off(const std::vector<Reading>& readings, const std::string& block) {
    return std::any_of(readings.begin(), readings.end(), [&](const Reading& reading) {
        const auto& removed = reading.configuration.removed;
        return !reading.set_aside && std::binary_search(removed.begin(), removed.end(), block);
    });
}

std::size_t trials_wanted(const Parties& parties, const FaultCatalogue& catalogue) {
    constexpr std::size_t usual = 3;
    constexpr std::size_t in_doubt = 5;
    const bool doubted = std::any_of(parties.list.begin(), parties.list.end(), [&](const Party& party) {
        return party.kind == HypothesisKind::none_of_these && party.suspicion > catalogue.none_of_these_share;
    });
    return doubted ? in_doubt : usual;
}

std::size_t readings_at_part(const std::vector<Reading>& readings, const MachinePlan& plan, int block) {
    std::set<std::tuple<ReadingKind, std::string, bool>> taken;
    for (const Reading& reading : readings) {
        if (!reading.set_aside &&
            is_at_part(reading.kind(), reading.place(), reading.configuration, plan, block))
            taken.emplace(reading.kind(), reading.place(), reading.configuration.bare_plug);
    }
    std::size_t count = 0;
    for (const auto& [kind, place, at_bare_plug] : taken) {
        const bool of_the_part_alone =
            kind == ReadingKind::through || kind == ReadingKind::between || at_bare_plug;
        count += of_the_part_alone ? 2 : 1;
    }
    return count;
}

}  // namespace eh
