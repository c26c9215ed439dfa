// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/machine_match.h"

#include <algorithm>
#include <cctype>
#include <map>
#include <set>

#include "core/base/text.h"
#include "core/board/designator.h"

namespace eh {
namespace {

bool is_named(const Net& net, const std::string& name) {
    return lower_case(net.id) == name ||
           std::any_of(net.names.begin(), net.names.end(),
                       [&](const std::string& other) { return lower_case(other) == name; });
}

// A name with its numbers taken out: "vbus#".
std::string without_numbers(const std::string& name) {
    std::string made;
    for (const char c : lower_case(name)) {
        const bool digit = std::isdigit(static_cast<unsigned char>(c)) != 0;
        if (!digit)
            made += c;
        else if (made.empty() || made.back() != '#')
            made += '#';
    }
    return made;
}

std::map<std::string, int> letters_on(const BoardMap& map, int net) {
    std::map<std::string, int> counts;
    for (const int part : map.parts_on(net))
        ++counts[designator_of(map.part(part).name)];
    return counts;
}

}  // namespace

const Net* machine_net(const BoardMap& map, int net, const Topology& topology) {
    const std::string name = lower_case(map.net(net).name);
    const auto found = std::find_if(topology.nets.begin(), topology.nets.end(),
                                    [&](const Net& known) { return is_named(known, name); });
    return found == topology.nets.end() ? nullptr : &*found;
}

int board_net(const BoardMap& map, const Net& net) {
    const int own = map.find_net(net.id);
    if (own != no_index)
        return own;
    for (const std::string& name : net.names)
        if (const int other = map.find_net(name); other != no_index)
            return other;
    return no_index;
}

std::vector<const Block*> machine_parts(const BoardMap& map, int part, const Knowledge& knowledge,
                                        const Topology& topology) {
    std::set<std::string> own;
    for (const int net : map.nets_of(part))
        if (const Net* known = machine_net(map, net, topology))
            own.insert(known->id);
    const std::string letters = designator_of(map.part(part).name);
    std::vector<std::pair<double, const Block*>> found;
    for (const Block& block : topology.blocks) {
        const BlockKind* kind = knowledge.find_kind(block.kind);
        if (kind == nullptr)
            continue;
        // Letters of a kind may be followed by others: UP1 is a chip.
        const bool named = std::any_of(kind->designators.begin(), kind->designators.end(),
                                       [&](const std::string& own_letters) {
                                           return letters.compare(0, own_letters.size(), own_letters) == 0;
                                       });
        std::set<std::string> nets;
        for (const auto& [pin, net] : block.pins)
            if (net != "nc" && net != "gnd")
                nets.insert(net);
        const auto shared = std::count_if(nets.begin(), nets.end(),
                                          [&](const std::string& net) { return own.count(net) > 0; });
        if (!named || shared == 0)
            continue;
        const double all = static_cast<double>(nets.size() + own.size()) - static_cast<double>(shared);
        found.emplace_back(static_cast<double>(shared) / all, &block);
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<const Block*> blocks;
    blocks.reserve(found.size());
    for (const auto& [share, block] : found)
        blocks.push_back(block);
    return blocks;
}

std::vector<int> twins_of(const BoardMap& map, int net) {
    const std::string name = map.net(net).name;
    const std::string pattern = without_numbers(name);
    if (pattern.find('#') == std::string::npos)
        return {};
    const auto own = letters_on(map, net);
    std::vector<int> twins;
    for (std::size_t n = 0; n < map.nets().size(); ++n) {
        const auto other = static_cast<int>(n);
        if (other == net || without_numbers(map.net(other).name) != pattern)
            continue;
        const auto letters = letters_on(map, other);
        int apart = 0;
        int total = 0;
        std::set<std::string> all;
        for (const auto* counts : {&own, &letters})
            for (const auto& [letter, count] : *counts) {
                all.insert(letter);
                total += count;
            }
        for (const std::string& letter : all) {
            const auto count_in = [&](const std::map<std::string, int>& counts) {
                const auto at = counts.find(letter);
                return at == counts.end() ? 0 : at->second;
            };
            apart += std::abs(count_in(own) - count_in(letters));
        }
        constexpr double alike_share = 0.25;
        if (apart <= alike_share * total)
            twins.push_back(other);
    }
    return twins;
}

}  // namespace eh
