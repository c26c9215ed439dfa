// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/wiggle_reading.h"

#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {

using WiggleTraits = Traits<WiggleReading>;

std::string WiggleTraits::value_text(const WiggleReading& value, const Topology&) {
    return value.drops_out ? "drops out when pushed" : "holds when pushed";
}

std::string WiggleTraits::subject(const WiggleReading&, const BenchConfiguration& bench,
                                  const Topology& topology) {
    return describe(bench, topology) + ", wiggled";
}

void WiggleTraits::write(const WiggleReading& value, nlohmann::json& file) {
    file["drops_out"] = value.drops_out;
}

WiggleReading WiggleTraits::read(const JsonReader& field) {
    return {field.at("drops_out").boolean()};
}

Outcome WiggleTraits::fits(const WiggleReading&, const BenchConfiguration& bench, const MachinePlan&,
                           const std::string& where) {
    if (!bench.charger_connected)
        return refused("a reading at the plug needs the charger connected", where);
    return kinds::without_supply(bench, where);
}

Result<WiggleReading> WiggleTraits::from_quick(QuickInput& typed) {
    const bool drops = take_word(typed.words, "drops") || take_word(typed.words, "drop");
    const bool holds = take_word(typed.words, "holds") || take_word(typed.words, "ok");
    const auto port = port_named(typed.words, typed.topology);
    if (drops == holds)
        return refused("does the meter drop out when the plug is pushed? Write wiggle " +
                       typed.topology.ports.front().id + " drops, or holds");
    if (port) {
        take_word(typed.words, *port);
        typed.plug_into(*port, std::nullopt);
    }
    if (!typed.words.empty())
        return refused("“" + joined(typed.words) + "” is not a port of this machine");
    return WiggleReading{drops};
}

double WiggleTraits::background(const WiggleReading&) {
    return 0.5;
}

void WiggleTraits::bring(const WiggleReading&, const BenchConfiguration&, const Topology&, ReadingTerms&) {}

std::size_t WiggleTraits::outcome_count(const MachinePlan&) {
    return 2;
}

std::string WiggleTraits::outcome_text(int outcome, const MachinePlan&) {
    return outcome == 1 ? "drops out" : "holds";
}

}  // namespace eh
