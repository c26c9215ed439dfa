// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/firmware_reading.h"

#include <array>
#include <utility>
#include <vector>

#include "core/base/json_fields.h"
#include "core/base/text.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

constexpr std::array<const char*, firmware_message_count> firmware_sentences{
    "no picture",
    "says it is charging",
    "says plugged in, not charging",
    "does not know the adapter",
    "held by charge limit",
    "says it is full",
    "says it runs on battery",
    "finds no battery",
    "calls the charger slow",
    "asks for service of the battery"};

constexpr std::array<const char*, charge_trend_count> trend_sentences{
    "rising", "rising slowly", "rising with breaks", "standing still", "falling"};

// Takes the words that tell a trend out of the line.
std::optional<ChargeTrend> take_trend(Words& words) {
    if (take_word(words, "rising")) {
        if (take_word(words, "slowly"))
            return ChargeTrend::rising_slowly;
        return take_word(words, "breaks") ? ChargeTrend::rising_with_breaks : ChargeTrend::rising;
    }
    if (take_word(words, "flat"))
        return ChargeTrend::flat;
    if (take_word(words, "falling"))
        return ChargeTrend::falling;
    return std::nullopt;
}

std::optional<FirmwareMessage> message_in(const Words& words) {
    const std::string text = lower_case(joined(words));
    static const std::vector<std::pair<const char*, FirmwareMessage>> names{
        {"not charging", FirmwareMessage::not_charging},
        {"charging", FirmwareMessage::charging},
        {"adapter unknown", FirmwareMessage::adapter_unknown},
        {"unknown adapter", FirmwareMessage::adapter_unknown},
        {"limit", FirmwareMessage::charge_limit},
        {"charge limit", FirmwareMessage::charge_limit},
        {"full", FirmwareMessage::full},
        {"battery", FirmwareMessage::on_battery},
        {"on battery", FirmwareMessage::on_battery},
        {"no battery", FirmwareMessage::no_battery},
        {"nothing", FirmwareMessage::none},
        {"no picture", FirmwareMessage::none},
        {"slow charger", FirmwareMessage::slow_charger},
        {"slow", FirmwareMessage::slow_charger},
        {"service battery", FirmwareMessage::service_battery},
        {"service", FirmwareMessage::service_battery}};
    for (const auto& [name, message] : names) {
        if (text == name)
            return message;
    }
    return std::nullopt;
}

}  // namespace

using FirmwareTraits = Traits<FirmwareReading>;

std::string FirmwareTraits::value_text(const FirmwareReading& value, const Topology&) {
    return firmware_sentences[static_cast<std::size_t>(value.message)] +
           (value.percent ? ", battery at " + format_quantity(*value.percent, Unit::none, 2) + " %"
                          : std::string()) +
           (value.trend ? std::string(", ") + trend_sentences[static_cast<std::size_t>(*value.trend)]
                        : std::string()) +
           page_text(value.page);
}

std::string FirmwareTraits::subject(const FirmwareReading&, const BenchConfiguration& bench,
                                    const Topology& topology) {
    return bench.lent.empty() ? "The machine" : "The machine (" + describe(bench, topology) + ")";
}

void FirmwareTraits::write(const FirmwareReading& value, nlohmann::json& file) {
    file["says"] = to_text(value.message);
    put_if(file, "percent", value.percent);
    if (value.trend)
        file["trend"] = to_text(*value.trend);
    write_page(value.page, file);
}

FirmwareReading FirmwareTraits::read(const JsonReader& field) {
    FirmwareReading value;
    value.message = read_word(field.at("says"), &firmware_message_from);
    if (field.has("percent"))
        value.percent = field.number_between("percent", 0.0, 100.0);
    if (field.has("trend"))
        value.trend = read_word(field.at("trend"), &charge_trend_from);
    value.page = read_page(field);
    return value;
}

Outcome FirmwareTraits::plausible(const FirmwareReading& value, const std::string& where) {
    if (value.percent && (*value.percent < 0.0 || *value.percent > 100.0))
        return refused("a battery is between 0 and 100 % full", where);
    return check_page(value.page, where);
}

Outcome FirmwareTraits::fits(const FirmwareReading&, const BenchConfiguration& bench, const MachinePlan&,
                             const std::string& where) {
    return kinds::without_supply(bench, where);
}

Result<FirmwareReading> FirmwareTraits::from_quick(QuickInput& typed) {
    FirmwareReading value;
    value.trend = take_trend(typed.words);
    auto page = take_page(typed.words);
    if (!page)
        return page.error();
    value.page = *std::move(page);
    Words rest;
    for (const std::string& word : typed.words) {
        const auto number = word.back() == '%' ? parse_quantity(word.substr(0, word.size() - 1))
                                               : Result<Quantity>(refused("no percentage"));
        if (!number) {
            rest.push_back(word);
            continue;
        }
        if (number->value < 0.0 || number->value > 100.0)
            return refused("a battery is between 0 and 100 % full, not " + word);
        value.percent = number->value;
    }
    const auto message = message_in(rest);
    if (!message)
        return refused(
            "what does the machine say? Write says charging, says not charging, says adapter unknown, "
            "says limit, says full, says battery, says no battery, says slow, says service or says nothing");
    value.message = *message;
    return value;
}

double FirmwareTraits::background(const FirmwareReading& value) {
    return (value.percent ? 1.0 / kinds::broad_percent_span : 1.0) *
           (value.trend ? 1.0 / charge_trend_count : 1.0) * page_background(value.page);
}

void FirmwareTraits::bring(const FirmwareReading& value, const BenchConfiguration&, const Topology&,
                           ReadingTerms& terms) {
    terms.word = static_cast<int>(value.message);
    terms.word_channel = "firmware";
}

std::size_t FirmwareTraits::outcome_count(const MachinePlan&) {
    return firmware_message_count;
}

std::string FirmwareTraits::outcome_text(int outcome, const MachinePlan&) {
    return firmware_sentences[static_cast<std::size_t>(outcome)];
}

}  // namespace eh
