// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/hot_part_reading.h"

#include <cmath>

#include "core/electrics/engineering.h"
#include "core/readings/bench_text.h"
#include "core/readings/certainty.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {

using HotPartTraits = Traits<HotPartReading>;

HotPartReading HotPartTraits::at(const std::string& place) {
    return {place, 0.0, 1.0};
}

std::string HotPartTraits::value_text(const HotPartReading& value, const Topology& topology) {
    if (value.part.empty())
        return "nothing warm";
    std::string text = title_of_block(topology, value.part);
    text += value.rise_kelvin ? " +" + format_quantity(*value.rise_kelvin, Unit::kelvin, 2) : " warm";
    if (value.certainty < 1.0)
        text += ", " + format_quantity(100.0 * value.certainty, Unit::none, 2) + " % sure";
    return text;
}

std::string HotPartTraits::subject(const HotPartReading&, const BenchConfiguration&, const Topology&) {
    return "Hottest part";
}

void HotPartTraits::write(const HotPartReading& value, nlohmann::json& file) {
    if (value.rise_kelvin) {
        file["value"] = *value.rise_kelvin;
        file["unit"] = "K";
    }
    if (value.certainty < 1.0 || !value.rise_kelvin)
        file["certainty"] = value.certainty;
}

HotPartReading HotPartTraits::read(const JsonReader& field) {
    HotPartReading value;
    value.part = field.text("place", "");
    value.rise_kelvin = std::nullopt;
    if (field.has("value") || !field.has("certainty")) {
        kinds::check_unit(field, "K");
        value.rise_kelvin = kinds::plausible_number(field, "value", Unit::kelvin);
    }
    if (field.has("certainty"))
        value.certainty = field.number_between("certainty", 0.0, 1.0);
    // The hottest part has no place where nothing is warm.
    if (!value.rise_kelvin || *value.rise_kelvin > 0.0)
        value.part = kinds::place_of(field);
    return value;
}

Outcome HotPartTraits::plausible(const HotPartReading& value, const std::string& where) {
    if (!(value.certainty > 0.0 && value.certainty <= 1.0))
        return refused("how sure it is that this part is the one lies between 0 and 100 %", where);
    return check_plausible(value.rise_kelvin.value_or(0.0), Unit::kelvin, where);
}

Outcome HotPartTraits::fits(const HotPartReading& value, const BenchConfiguration& bench,
                            const MachinePlan& plan, const std::string& where) {
    if (!value.part.empty() && plan.topology().find_block(value.part) == nullptr)
        return refused("this machine has no part “" + value.part + "”", where);
    return kinds::without_supply(bench, where);
}

std::string HotPartTraits::bench_conflict(const BenchConfiguration& bench) {
    return kinds::must_be_powered(bench);
}

Result<HotPartReading> HotPartTraits::from_quick(QuickInput& typed) {
    HotPartReading value;
    Words& words = typed.words;
    if (words.size() == 1 && (take_word(words, "none") || take_word(words, "nothing")))
        return value;
    // Without a camera a place is found rather than a part, and no rise (shares: common practice,
    // estimated).
    if (take_word(words, "alcohol"))
        value.certainty = alcohol_certainty;
    if (take_word(words, "finger"))
        value.certainty = finger_certainty;
    const bool measured = value.certainty == 1.0;
    const auto values = take_values(words);
    const auto block = find_block(words, typed.topology);
    if (!block)
        return block.error();
    value.part = (*block)->id;
    if (!measured && values.empty()) {
        value.rise_kelvin = std::nullopt;
        return value;
    }
    if (values.size() != 1 || !measured)
        return refused("by how many kelvin is it warmer than its surroundings? Write for instance hot " +
                       (*block)->id + " +30");
    const Unit unit = values.front().quantity.unit;
    if (unit != Unit::none && unit != Unit::kelvin && unit != Unit::celsius)
        return refused("“" + values.front().text + "” is not a rise in kelvin");
    value.rise_kelvin = values.front().quantity.value;
    return value;
}

// Of a rise where a part is named, as one of the parts in sight.
double HotPartTraits::background(const HotPartReading& value) {
    if (value.part.empty())
        return kinds::broad_nothing_warm * words;
    if (!value.rise_kelvin)
        return 1.0 - kinds::broad_nothing_warm;
    return (1.0 - kinds::broad_nothing_warm) *
           std::exp(-std::abs(*value.rise_kelvin) / kinds::broad_mean_rise) / kinds::broad_mean_rise;
}

void HotPartTraits::bring(const HotPartReading& value, const BenchConfiguration&, const Topology& topology,
                          ReadingTerms& terms) {
    terms.channels[0] = "heat of " + value.part;
    terms.word = part_number(value.part, topology);
    terms.word_channel = "hottest under power";
}

int HotPartTraits::part_number(const std::string& part, const Topology& topology) {
    for (std::size_t b = 0; b < topology.blocks.size(); ++b) {
        if (topology.blocks[b].id == part)
            return static_cast<int>(b) + 1;
    }
    return 0;
}

std::size_t HotPartTraits::outcome_count(const MachinePlan& plan) {
    return plan.topology().blocks.size() + 1;
}

std::string HotPartTraits::outcome_text(int outcome, const MachinePlan& plan) {
    if (outcome == 0)
        return "nothing warm";
    const std::string& id = plan.blocks[static_cast<std::size_t>(outcome - 1)].id;
    return title_of_block(plan.topology(), id) + " hottest";
}

}  // namespace eh
