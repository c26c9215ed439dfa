// SPDX-License-Identifier: GPL-3.0-or-later
// What to do next, for people.
#include "core/planning/next_act.h"
#include "core/readings/bench_text.h"

namespace eh {

std::string part_title(const MachinePlan& plan, const std::string& id) {
    const Block* block = plan.topology().find_block(id);
    const int index = plan.find_block(id);
    if (block == nullptr && index >= 0)
        return plan.blocks[static_cast<std::size_t>(index)].kind->title;
    return block == nullptr ? id : block->title;
}

namespace {

// What is done before it: "Cut all power, then: ".
std::string work_before(const NextAct& act, const MachinePlan& plan) {
    std::string text = act.cut_power_first ? "Cut all power" : "";
    for (const Handling& done : act.work_first) {
        const std::string work = to_order(done.work) + " " + part_title(plan, done.block);
        text += text.empty() ? work : ", " + work;
    }
    return text.empty() ? text : text + ", then: ";
}

std::string reading_text(const NextAct& act, const MachinePlan& plan) {
    const Topology& topology = plan.topology();
    const Net* net = topology.find_net(act.place);
    const std::string place = net == nullptr ? act.place : net->title;
    BenchConfiguration standing = act.configuration;
    standing.handled.clear();  // said before it
    const std::string stance = describe(standing, topology);
    const std::string at_plug = act.configuration.bare_plug ? ", at a bare plug" : "";
    switch (act.reading) {
        case ReadingKind::meter:
            return "Meter: " + stance;
        case ReadingKind::net_volts:
            return "Volts of " + place + " (" + stance + ")";
        case ReadingKind::net_ohms: {
            std::string text = "Ohms of " + place + " to ground" + at_plug;
            for (const std::string& id : act.configuration.removed) {
                if (const Block* block = topology.find_block(id))
                    text += ", without " + block->title;
            }
            return text + (act.configuration.second_instruments ? ", with another multimeter" : "");
        }
        case ReadingKind::hot_part:
            return "Hottest part (" + stance + ")";
        case ReadingKind::injection:
            return "Inject " + stance + ": hottest part";
        case ReadingKind::look:
            return "Look at " + part_title(plan, act.place);
        case ReadingKind::through:
            return "Ohms through " + part_title(plan, act.place) + ", at rest and pushed";
        case ReadingKind::diode:
            return "Diode mode at " + place;
        case ReadingKind::firmware:
            return "What the machine says (" + stance + ")";
        case ReadingKind::talk:
            return "Record what is said on the CC line (" + stance + ")";
        case ReadingKind::between: {
            const auto nets = Traits<BetweenReading>::at(act.place);
            const std::string from =
                nets.net == nets.other ? "a bare plug" : title_of_net(topology, nets.net);
            return "Ohms from " + from + " to " + title_of_net(topology, nets.other) +
                   (nets.net == nets.other ? "" : at_plug);
        }
        case ReadingKind::pack:
            return "Volts of the battery pack, unplugged";
        case ReadingKind::board_look:
            return "Look the board over under magnification";
        case ReadingKind::sign:
            return "Signs of life: " + stance;
        case ReadingKind::wiggle:
            return "Wiggle the plug: " + stance;
    }
    return {};
}

}  // namespace

std::string describe(const NextAct& act, const MachinePlan& plan) {
    if (act.repair)
        return fault_title(plan.knowledge(), plan.topology(), act.fault) + ": " + to_title(act.remedy);
    return work_before(act, plan) + reading_text(act, plan);
}

}  // namespace eh
