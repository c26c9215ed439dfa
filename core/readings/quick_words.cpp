// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/quick_words.h"

#include <algorithm>
#include <sstream>

#include "core/base/text.h"

namespace eh {
namespace {

Words sorted_words(const std::string& text) {
    Words words = split_words(lower_case(text));
    std::sort(words.begin(), words.end());
    return words;
}

bool starts_like_number(const std::string& word) {
    const auto digit = word.find_first_of("0123456789");
    return digit != std::string::npos && digit <= 1 &&
           (digit == 0 || word[0] == '+' || word[0] == '-' || word[0] == '.' || word[0] == ',');
}

// Takes the words of `name` out of `words`; nothing when one is missing.
std::optional<Words> without(Words words, const Words& name) {
    for (const std::string& word : name) {
        if (!take_word(words, word))
            return std::nullopt;
    }
    return words;
}

}  // namespace

Words split_words(const std::string& text) {
    std::istringstream stream(text);
    Words words;
    for (std::string word; stream >> word;)
        words.push_back(word);
    return words;
}

std::string joined(const Words& words) {
    std::string text;
    for (const std::string& word : words)
        text += (text.empty() ? "" : " ") + word;
    return text;
}

std::vector<std::string> names_of(const Net& net) {
    std::vector<std::string> names{net.id};
    names.insert(names.end(), net.names.begin(), net.names.end());
    return names;
}

bool take_word(Words& words, const std::string& word) {
    const auto found =
        std::find_if(words.begin(), words.end(), [&](const std::string& w) { return lower_case(w) == word; });
    if (found == words.end())
        return false;
    words.erase(found);
    return true;
}

std::vector<TypedValue> take_values(Words& words) {
    std::vector<TypedValue> values;
    Words rest;
    for (std::size_t i = 0; i < words.size(); ++i) {
        const bool over_limit = lower_case(words[i]) == "ol";
        if (!over_limit && !starts_like_number(words[i])) {
            rest.push_back(words[i]);
            continue;
        }
        if (!over_limit && i + 1 < words.size() && !starts_like_number(words[i + 1])) {
            // "b" and "a" also name plug sides, so a lone letter counts as a unit only right behind a bare
            // number.
            const auto with_unit = parse_quantity(words[i] + " " + words[i + 1]);
            const auto alone = parse_quantity(words[i]);
            if (with_unit && alone && alone->unit == Unit::none && with_unit->unit != Unit::none) {
                values.push_back({*with_unit, words[i] + " " + words[i + 1]});
                ++i;
                continue;
            }
        }
        if (const auto quantity = parse_quantity(words[i]))
            values.push_back({*quantity, words[i]});
        else
            rest.push_back(words[i]);
    }
    words = rest;
    return values;
}

std::optional<std::string> port_named(const Words& words, const Topology& topology) {
    for (const std::string& word : words) {
        if (topology.find_port(lower_case(word)) != nullptr)
            return lower_case(word);
    }
    return std::nullopt;
}

std::optional<NetAndValues> find_net_and_values(const Words& words, const Topology& topology) {
    std::optional<NetAndValues> best;
    std::size_t longest = 0;
    const auto consider = [&](const Net& net, const Words& name) {
        auto rest = without(words, name);
        if (!rest || name.size() <= longest)
            return;
        auto values = take_values(*rest);
        if (!rest->empty())
            return;
        best = NetAndValues{&net, std::move(values)};
        longest = name.size();
    };
    for (const Net& net : topology.nets) {
        for (const std::string& text : names_of(net)) {
            Words name = sorted_words(text);
            consider(net, name);
            // A net's name without its port, and the port beside it.
            if (!net.port.empty() && std::find(name.begin(), name.end(), net.port) == name.end()) {
                name.push_back(net.port);
                consider(net, name);
            }
        }
    }
    return best;
}

Result<const Block*> find_block(const Words& words, const Topology& topology) {
    const Words wanted = sorted_words(joined(words));
    for (const Block& block : topology.blocks) {
        if (sorted_words(block.id) == wanted || sorted_words(block.title) == wanted)
            return &block;
    }
    return refused("“" + joined(words) + "” is not a part of this machine; its parts are typed like " +
                   topology.blocks.front().id + " or by their title");
}

void QuickInput::plug_into(const std::string& port, std::optional<PlugSide> side) {
    bench.charger_connected = true;
    bench.bare_plug = false;
    bench.tester = Tester::none;
    if (bench.port != port)
        bench.side = PlugSide::a;
    bench.port = port;
    if (side)
        bench.side = *side;
}

}  // namespace eh
