// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/sign_reading.h"

#include <array>
#include <set>
#include <utility>
#include <vector>

#include "core/base/json_fields.h"
#include "core/base/text.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_parts.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

constexpr std::array<const char*, machine_sign_count> sign_sentences{"no sign of life",
                                                                     "a lamp glows dimly, nothing starts",
                                                                     "a lamp is lit, nothing starts",
                                                                     "a lamp blinks, nothing starts",
                                                                     "chimes or shows a charging symbol",
                                                                     "starts and stops again",
                                                                     "starts and stays on"};

const std::vector<std::pair<const char*, MachineSign>>& sign_words() {
    static const std::vector<std::pair<const char*, MachineSign>> names{
        {"nothing", MachineSign::nothing},   {"none", MachineSign::nothing},
        {"dead", MachineSign::nothing},      {"dim", MachineSign::dim_lamp},
        {"dim lamp", MachineSign::dim_lamp}, {"lamp", MachineSign::lamp},
        {"steady", MachineSign::lamp},       {"blinking", MachineSign::blinking},
        {"blinks", MachineSign::blinking},   {"tries", MachineSign::tries},
        {"restarts", MachineSign::tries},    {"runs", MachineSign::runs},
        {"starts", MachineSign::runs},       {"chime", MachineSign::greets},
        {"chimes", MachineSign::greets},     {"symbol", MachineSign::greets},
        {"lamp steady", MachineSign::lamp},  {"lamp blinks", MachineSign::blinking},
        {"steady lamp", MachineSign::lamp},  {"lamp blinking", MachineSign::blinking}};
    return names;
}

std::optional<MachineSign> sign_in(const Words& words) {
    const std::string text = lower_case(joined(words));
    for (const auto& [name, sign] : sign_words()) {
        if (text == name)
            return sign;
    }
    return std::nullopt;
}

// Whether the words name two signs that are not the same.
bool name_several(const Words& words) {
    std::set<MachineSign> named;
    for (const std::string& word : words) {
        if (const auto sign = sign_in({word}))
            named.insert(*sign);
    }
    return named.size() > 1;
}

}  // namespace

using SignTraits = Traits<SignReading>;

std::string SignTraits::bench_conflict(const BenchConfiguration& bench) {
    return bench.charger_connected || bench.battery_in
               ? ""
               : "Without charger and battery a machine gives no sign; plug one of them in first.";
}

std::string SignTraits::value_text(const SignReading& value, const Topology&) {
    return sign_sentences[static_cast<std::size_t>(value.sign)];
}

std::string SignTraits::subject(const SignReading&, const BenchConfiguration& bench,
                                const Topology& topology) {
    return "Signs of life (" + describe(bench, topology) + ")";
}

void SignTraits::write(const SignReading& value, nlohmann::json& file) {
    file["sign"] = to_text(value.sign);
}

SignReading SignTraits::read(const JsonReader& field) {
    return {read_word(field.at("sign"), &machine_sign_from)};
}

Outcome SignTraits::fits(const SignReading&, const BenchConfiguration& bench, const MachinePlan&,
                         const std::string& where) {
    if (const std::string conflict = bench_conflict(bench); !conflict.empty())
        return refused(conflict, where);
    return kinds::without_supply(bench, where);
}

Result<SignReading> SignTraits::from_quick(QuickInput& typed) {
    if (const auto port = port_named(typed.words, typed.topology)) {
        take_word(typed.words, *port);
        typed.plug_into(*port, std::nullopt);
    }
    const auto sign = sign_in(typed.words);
    if (!sign && name_several(typed.words))
        return refused(
            "a machine gives one sign at a moment; type what came first, and then what came of it as a "
            "reading "
            "of its own");
    if (!sign)
        return refused(
            "what does the machine show? Write sign nothing, sign dim, sign lamp, sign blinking, sign chime, "
            "sign tries "
            "or sign runs");
    return SignReading{*sign};
}

void SignTraits::bring(const SignReading& value, const BenchConfiguration&, const Topology&,
                       ReadingTerms& terms) {
    terms.word = static_cast<int>(value.sign);
    terms.word_channel = "sign";
}

std::size_t SignTraits::outcome_count(const MachinePlan&) {
    return machine_sign_count;
}

std::string SignTraits::outcome_text(int outcome, const MachinePlan&) {
    return sign_sentences[static_cast<std::size_t>(outcome)];
}

}  // namespace eh
