// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/look_reading.h"

#include <array>

#include "core/base/json_fields.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

constexpr std::array<const char*, look_count> look_sentences{"looks sound", "burnt or discoloured",
                                                             "corroded, marks of liquid",
                                                             "broken, loose or a bad joint", "dirty"};

}  // namespace

using LookTraits = Traits<LookReading>;

std::string describe(Look look) {
    return look_sentences[static_cast<std::size_t>(look)];
}

LookReading LookTraits::at(const std::string& place) {
    return {place, Look::sound};
}

std::string LookTraits::value_text(const LookReading& value, const Topology&) {
    return describe(value.seen);
}

std::string LookTraits::subject(const LookReading& value, const BenchConfiguration&,
                                const Topology& topology) {
    return title_of_block(topology, value.part);
}

void LookTraits::write(const LookReading& value, nlohmann::json& file) {
    file["look"] = to_text(value.seen);
}

LookReading LookTraits::read(const JsonReader& field) {
    const Look seen = read_word(field.at("look"), &look_from);
    return {kinds::place_of(field), seen};
}

Outcome LookTraits::fits(const LookReading& value, const BenchConfiguration& bench, const MachinePlan& plan,
                         const std::string& where) {
    if (plan.find_block(value.part) < 0)
        return refused("this machine has no part “" + value.part + "”", where);
    return kinds::without_supply(bench, where);
}

std::string LookTraits::bench_conflict(const BenchConfiguration&) {
    return {};
}

Result<LookReading> LookTraits::from_quick(QuickInput& typed) {
    const std::string example = "; write for instance look " + typed.topology.blocks.front().id +
                                " burnt, or corroded, broken, dirty, sound";
    std::optional<Look> seen;
    for (int i = 0; i < look_count && !seen; ++i) {
        if (take_word(typed.words, to_text(static_cast<Look>(i))))
            seen = static_cast<Look>(i);
    }
    if (!seen)
        return refused("what is to be seen" + example);
    const auto block = find_block(typed.words, typed.topology);
    if (!block)
        return block.error();
    return LookReading{(*block)->id, *seen};
}

void LookTraits::bring(const LookReading& value, const BenchConfiguration&, const Topology&,
                       ReadingTerms& terms) {
    terms.word = static_cast<int>(value.seen);
}

std::size_t LookTraits::outcome_count(const MachinePlan&) {
    return look_count;
}

std::string LookTraits::outcome_text(int outcome, const MachinePlan&) {
    return describe(static_cast<Look>(outcome));
}

}  // namespace eh
