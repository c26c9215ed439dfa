// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/talk_reading.h"

#include <algorithm>
#include <array>

#include "core/base/json_fields.h"
#include "core/base/text.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

constexpr std::array<const char*, negotiation_end_count> talk_sentences{
    "nothing is said on the CC line",
    "what is said cannot be read",
    "offers, but nobody acknowledges them",
    "offers acknowledged, but nothing asked for",
    "the charger refuses",
    "the charger accepts, but its volts do not come",
    "the machine asks for less than it could have",
    "a contract, but less is offered than the machine wants",
    "a contract that is torn down again",
    "the contract that the machine wants"};

std::optional<NegotiationEnd> end_in(const Words& words) {
    std::string text = lower_case(joined(words));
    std::replace(text.begin(), text.end(), ' ', '_');
    return negotiation_end_from(text);
}

}  // namespace

using TalkTraits = Traits<TalkReading>;

std::string TalkTraits::value_text(const TalkReading& value, const Topology&) {
    return talk_sentences[static_cast<std::size_t>(value.end)];
}

std::string TalkTraits::subject(const TalkReading&, const BenchConfiguration& bench,
                                const Topology& topology) {
    return describe(bench, topology);
}

void TalkTraits::write(const TalkReading& value, nlohmann::json& file) {
    file["talk"] = to_text(value.end);
}

TalkReading TalkTraits::read(const JsonReader& field) {
    return {read_word(field.at("talk"), &negotiation_end_from)};
}

Outcome TalkTraits::fits(const TalkReading&, const BenchConfiguration& bench, const MachinePlan&,
                         const std::string& where) {
    return kinds::without_supply(bench, where);
}

Result<TalkReading> TalkTraits::from_quick(QuickInput& typed) {
    if (const auto port = port_named(typed.words, typed.topology)) {
        take_word(typed.words, *port);
        typed.bench.port = *port;
    }
    const auto end = end_in(typed.words);
    if (!end)
        return refused(
            "what did the conversation come to? Write talk silent, talk garbled, talk unanswered, talk "
            "unrequested, talk refused, talk unready, talk asked less, talk short offer, talk torn or talk "
            "contract");
    return TalkReading{*end};
}

void TalkTraits::bring(const TalkReading& value, const BenchConfiguration& bench, const Topology&,
                       ReadingTerms& terms) {
    terms.word = static_cast<int>(value.end);
    terms.word_channel = "talk " + bench.port;
}

std::size_t TalkTraits::outcome_count(const MachinePlan&) {
    return negotiation_end_count;
}

std::string TalkTraits::outcome_text(int outcome, const MachinePlan&) {
    return talk_sentences[static_cast<std::size_t>(outcome)];
}

}  // namespace eh
