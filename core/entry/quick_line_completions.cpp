// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <set>

#include "core/base/text.h"
#include "core/entry/quick_line.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

// Wires that go in at one end and out at the other.
bool has_two_ends(const Block& block) {
    return std::any_of(block.pins.begin(), block.pins.end(), [&](const auto& pin) {
        const auto ending = pin.first.rfind("_in");
        return ending != std::string::npos && block.pins.count(pin.first.substr(0, ending) + "_out") != 0;
    });
}

}  // namespace

std::vector<std::string> quick_line_completions(const std::string& typed, const Topology& topology,
                                                std::size_t most) {
    std::vector<std::string> all;
    for (const Port& port : topology.ports) {
        all.push_back(port.id + " ");
        all.push_back(port.id + " dark");
        all.push_back("wiggle " + port.id + " drops");
        all.push_back("wiggle " + port.id + " holds");
        for (const char* standing : {" held ", " pressed ", " standby ", " cut ", " first "})
            all.push_back(port.id + standing);
    }
    for (const char* alone : {"tester ", "tester dark", "pack "})
        all.emplace_back(alone);
    for (const Net& net : topology.nets) {
        for (const std::string& name : names_of(net))
            all.push_back(name + " ");
    }
    for (const Block& block : topology.blocks)
        all.push_back("hot " + block.id + " +");
    all.emplace_back("hot none");
    for (const Block& block : topology.blocks)
        all.push_back("look " + block.id + " ");
    all.emplace_back("board nothing");
    for (const Block& block : topology.blocks)
        all.push_back("board " + block.id + " ");
    for (const Block& block : topology.blocks) {
        if (has_two_ends(block))
            all.push_back("through " + block.id + " ");
    }
    for (const Net& net : topology.nets)
        all.push_back("diode " + net.id + " ");
    for (const Net& net : topology.nets)
        all.push_back("inject " + net.id + " 1v 3a ");
    for (const char* message : {"charging", "not charging", "adapter unknown", "limit", "full", "battery",
                                "no battery", "slow", "service", "nothing"})
        all.push_back(std::string("says ") + message);
    for (const char* page : {"65w", "health ", "cycles "})
        all.push_back(std::string("says charging ") + page);
    for (const char* sign : {"nothing", "dim", "lamp", "blinking", "chime", "tries", "runs"})
        all.push_back(std::string("sign ") + sign);
    for (int end = 0; end < negotiation_end_count; ++end) {
        std::string word = to_text(static_cast<NegotiationEnd>(end));
        std::replace(word.begin(), word.end(), '_', ' ');
        all.push_back("talk " + word);
    }
    const std::string start = lower_case(typed);
    std::vector<std::string> matching;
    std::set<std::string> seen;
    for (const std::string& candidate : all) {
        if (matching.size() < most && candidate.size() > start.size() &&
            candidate.compare(0, start.size(), start) == 0 && seen.insert(candidate).second)
            matching.push_back(candidate);
    }
    return matching;
}

}  // namespace eh
