// SPDX-License-Identifier: GPL-3.0-or-later
// The words of a quick line: numbers with their units, names of nets, ports and parts in any order.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/electrics/engineering.h"
#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/topology.h"

namespace eh {

using Words = std::vector<std::string>;

// The line cut at its spaces, and put together again.
Words split_words(const std::string& line);
std::string joined(const Words& words);

// Takes a word (in small letters) out, in whatever letters it is typed. False when it is not there.
bool take_word(Words& words, const std::string& word);

// A number, with a unit standing apart from it joined on ("12.6 v", "30 mA").
struct TypedValue {
    Quantity quantity;
    std::string text;  // as it was typed
};

// Takes every value out of the words, in their order.
std::vector<TypedValue> take_values(Words& words);

// The port that is named somewhere in the words.
std::optional<std::string> port_named(const Words& words, const Topology& topology);

// All ways to type a net.
std::vector<std::string> names_of(const Net& net);

struct NetAndValues {
    const Net* net = nullptr;
    std::vector<TypedValue> values;
};

// The net whose name leaves nothing but values when it is taken out of the line; the longest name wins, since
// names such as "pd 3v3" hold words that look like values.
std::optional<NetAndValues> find_net_and_values(const Words& words, const Topology& topology);

// The part whose id or title these words are, in any order; refused otherwise.
Result<const Block*> find_block(const Words& words, const Topology& topology);

// A line typed at the bench, less the word that names its kind. What the line says of the bench (the port,
// the plug's side, the supply) is put into `bench`.
struct QuickInput {
    Words words;
    const Topology& topology;
    BenchConfiguration bench;

    // The charger stands in this port; side A where the port is another than before and none is named.
    void plug_into(const std::string& port, std::optional<PlugSide> side);
};

}  // namespace eh
