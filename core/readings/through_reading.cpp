// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/through_reading.h"

#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/net_ohms_reading.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

using Ohms = Traits<NetOhmsReading>;

}  // namespace

using ThroughTraits = Traits<ThroughReading>;

ThroughReading ThroughTraits::at(const std::string& place) {
    return {place, std::nullopt, std::nullopt};
}

std::string ThroughTraits::value_text(const ThroughReading& value, const Topology&) {
    std::string text = value.ohms ? format_quantity(*value.ohms, Unit::ohms) : "OL";
    if (value.changes_when_pushed)
        text += *value.changes_when_pushed ? ", changes when pushed" : ", holds when pushed";
    return text;
}

std::string ThroughTraits::subject(const ThroughReading& value, const BenchConfiguration&,
                                   const Topology& topology) {
    return "Through " + title_of_block(topology, value.part);
}

void ThroughTraits::write(const ThroughReading& value, nlohmann::json& file) {
    kinds::write_value_or_ol(file, value.ohms, "ohm");
    if (value.changes_when_pushed)
        file["changes_when_pushed"] = *value.changes_when_pushed;
}

ThroughReading ThroughTraits::read(const JsonReader& field) {
    ThroughReading value;
    value.ohms = kinds::read_value_or_ol(field, Unit::ohms, "ohm");
    if (field.has("changes_when_pushed"))
        value.changes_when_pushed = field.at("changes_when_pushed").boolean();
    value.part = kinds::place_of(field);
    return value;
}

Outcome ThroughTraits::plausible(const ThroughReading& value, const std::string& where) {
    return kinds::plausible_or_ol(value.ohms, Unit::ohms, where);
}

Outcome ThroughTraits::fits(const ThroughReading& value, const BenchConfiguration& bench,
                            const MachinePlan& plan, const std::string& where) {
    const int part = plan.find_block(value.part);
    if (part < 0)
        return refused("this machine has no part “" + value.part + "”", where);
    if (!plan.blocks[static_cast<std::size_t>(part)].kind->pinned_out)
        return refused("“" + value.part + "” has no two ends to measure between", where);
    return kinds::without_supply(bench, where);
}

OffQuestion ThroughTraits::asks(const ThroughReading& value, const MachinePlan& plan) {
    return {OffQuestion::Of::through_part, plan.find_block(value.part)};
}

std::string ThroughTraits::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_off(bench);
}

Result<ThroughReading> ThroughTraits::from_quick(QuickInput& typed) {
    const bool changes = take_word(typed.words, "changes") || take_word(typed.words, "drops");
    const bool holds = take_word(typed.words, "holds");
    const auto values = take_values(typed.words);
    const auto block = find_block(typed.words, typed.topology);
    if (!block)
        return block.error();
    const std::string example = "; write for instance through " + (*block)->id + " 0r1 holds";
    if (values.size() != 1)
        return refused("one value in ohms, of the worst wire, is wanted" + example);
    const Quantity& q = values.front().quantity;
    if (!q.over_limit && q.unit != Unit::ohms && q.unit != Unit::none)
        return refused("“" + values.front().text + "” is not ohms" + example);
    return ThroughReading{(*block)->id, q.over_limit ? std::nullopt : std::optional(q.value),
                          changes || holds ? std::optional(changes) : std::nullopt};
}

double ThroughTraits::background(const ThroughReading& value) {
    return kinds::broad_ohms(reads_open(value.ohms)) * (value.changes_when_pushed ? 0.5 : 1.0);
}

void ThroughTraits::bring(const ThroughReading& value, const BenchConfiguration&, const Topology&,
                          ReadingTerms& terms) {
    terms.channels[0] = "ohms through " + value.part;
}

std::size_t ThroughTraits::outcome_count(const MachinePlan& plan) {
    return Ohms::outcome_count(plan);
}

std::string ThroughTraits::outcome_text(int outcome, const MachinePlan& plan) {
    return Ohms::outcome_text(outcome, plan);
}

}  // namespace eh
