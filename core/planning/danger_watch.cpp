// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/danger_watch.h"

#include <algorithm>

namespace eh {
namespace {

bool holds(const std::vector<std::string>& list, const std::string& entry) {
    return std::find(list.begin(), list.end(), entry) != list.end();
}

void add_seen(const MachinePlan& plan, const SeenPart& part, const BenchConfiguration& now,
              std::vector<DangerFound>& found) {
    const int index = plan.find_block(part.part);
    if (index < 0 || holds(now.removed, part.part) || holds(now.replaced, part.part))
        return;
    const PlanBlock& block = plan.blocks[static_cast<std::size_t>(index)];
    for (const Danger& danger : plan.knowledge().dangers) {
        const bool told =
            danger.seen ? *danger.seen == part.seen : danger.flaw != Flaw::none && danger.flaw == part.flaw;
        if (!told || (!danger.kinds.empty() && !holds(danger.kinds, block.kind->id)))
            continue;
        const bool of_port = danger.keeps_power_from == KeepsPowerFrom::port && block.port >= 0;
        found.push_back({&danger, part.part,
                         of_port ? plan.topology().ports[static_cast<std::size_t>(block.port)].id : ""});
    }
}

void add_shorted(const std::vector<Reading>& taken, const BenchConfiguration& now, const Net& net,
                 const Danger& danger, std::vector<DangerFound>& found) {
    const auto last = std::find_if(taken.rbegin(), taken.rend(), [&](const Reading& reading) {
        return !reading.set_aside && reading.kind() == ReadingKind::net_ohms && reading.place() == net.id;
    });
    if (last == taken.rend() || last->configuration.removed != now.removed ||
        last->configuration.replaced != now.replaced)
        return;
    const auto& ohms = last->as<NetOhmsReading>()->ohms;
    if (ohms && *ohms < danger.below_ohms)
        found.push_back({&danger, net.id, net.port});
}

}  // namespace

std::vector<DangerFound> dangers_found(const MachinePlan& plan, const std::vector<Reading>& taken,
                                       const BenchConfiguration& now) {
    std::vector<DangerFound> found;
    for (const Reading& reading : taken) {
        if (reading.set_aside)
            continue;
        for (const SeenPart& part : parts_seen(reading))
            add_seen(plan, part, now, found);
    }
    for (const Danger& danger : plan.knowledge().dangers) {
        for (const Net& net : plan.topology().nets) {
            if (danger.below_ohms > 0.0 && net.stage == danger.stage)
                add_shorted(taken, now, net, danger, found);
        }
    }
    return found;
}

const DangerFound* forbidding(const std::vector<DangerFound>& dangers,
                              const BenchConfiguration& configuration) {
    // At a tester the charger feeds no part of the machine.
    const bool into_machine = feeds_machine(configuration);
    const auto forbids = [&](const DangerFound& found) {
        switch (found.danger->keeps_power_from) {
            case KeepsPowerFrom::port:
                return into_machine && (found.port.empty() || configuration.port == found.port);
            case KeepsPowerFrom::source:
                return configuration.charger_connected &&
                       (configuration.charger == Owner::customer || configuration.lead == Owner::customer);
            case KeepsPowerFrom::machine:
                return into_machine;
        }
        return false;
    };
    const auto first = std::find_if(dangers.begin(), dangers.end(), forbids);
    return first == dangers.end() ? nullptr : &*first;
}

}  // namespace eh
