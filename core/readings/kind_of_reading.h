// SPDX-License-Identifier: GPL-3.0-or-later
// What every kind of reading can say of itself. A kind is a struct of values and its traits, in a file of
// their own, listed once in reading.h; whoever handles readings asks the traits and does not switch on the
// kind.
#pragma once

#include <array>
#include <concepts>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <span>
#include <string>
#include <string_view>

#include "core/base/json_reader.h"
#include "core/base/result.h"
#include "core/machine/model/bench_configuration.h"
#include "core/machine/model/machine_plan.h"
#include "core/machine/model/off_question.h"
#include "core/readings/accuracy.h"
#include "core/readings/reading_terms.h"

namespace eh {

enum class ReadingKind {
    meter,       // inline meter at the plug: pattern, volts, amps
    net_volts,   // volts of a net under power
    net_ohms,    // ohms of a net to ground, machine off
    hot_part,    // hottest part and its rise
    firmware,    // what the machine says about charging
    wiggle,      // does the meter drop out when the plug is pushed
    injection,   // bench supply at a net: volts, amps, hottest part and its rise
    look,        // what is seen of a part
    through,     // ohms from end to end of a part that was unplugged, its worst wire; at rest and pushed
    diode,       // volts in diode mode, red on ground and black on a net, machine off
    talk,        // what the conversation on the CC line came to, recorded from plugging in on
    between,     // ohms from one net to another, machine off: across a part on the board
    pack,        // volts of the pack at its connector, unplugged
    sign,        // what the machine shows of itself without a screen
    board_look,  // the whole board looked over: what is odd where
};

struct QuickInput;  // core/readings/quick_words.h

// What a kind can say of itself: Traits<Value> for each struct of values, written out in its own file. Where
// most kinds say the same, it stands in UsualTraits.
template <typename Value>
struct Traits;

template <typename Value>
struct UsualTraits {
    // Words that begin a quick line of the kind.
    static constexpr std::array<std::string_view, 0> quick_words{};
    // Whether it is taken with the multimeter at a machine that is off.
    static constexpr bool unpowered = false;
    // Whether it is seen of parts, so that it matters not what is plugged in.
    static constexpr bool by_eye = false;
    // How many words it chooses from.
    static constexpr int words = 1;

    // The net or part it was taken at; empty where the kind has none, or nothing was warm.
    static std::string place(const Value&) { return {}; }
    // A reading at a place with nothing seen yet.
    static Value at(const std::string&) { return {}; }
    // Refuses numbers that no bench shows, with a sentence.
    static Outcome plausible(const Value&, const std::string&) { return Done{}; }
    // Why the bench does not stand as the kind needs it, for people; empty when it does.
    static std::string bench_conflict(const BenchConfiguration& bench) {
        return bench.charger_connected ? "" : "This reading needs the charger plugged in.";
    }
    // Density of its numbers over all that a bench can show. Positive and finite.
    static double background(const Value&) { return 1.0; }
    // Whether two readings at one place and bench show the same within the instrument's accuracy; false for
    // kinds that are not compared.
    static bool shows_the_same(const Value&, const Value&, const AccuracyOptions&) { return false; }
};

template <typename Value>
concept KindOfReading = std::equality_comparable<Value> &&
    requires(const Value& value, const Topology& topology, const BenchConfiguration& bench,
             const MachinePlan& plan, const AccuracyOptions& accuracy, nlohmann::json& file,
             const JsonReader& field, ReadingTerms& terms, const std::string& text) {
    // Its place in the list of kinds, and its word in files.
    { Traits<Value>::kind } -> std::convertible_to<ReadingKind>;
    { Traits<Value>::word } -> std::convertible_to<std::string_view>;

    // As UsualTraits says.
    { Traits<Value>::quick_words } -> std::convertible_to<std::span<const std::string_view>>;
    { Traits<Value>::unpowered } -> std::convertible_to<bool>;
    { Traits<Value>::by_eye } -> std::convertible_to<bool>;
    { Traits<Value>::words } -> std::convertible_to<int>;
    { Traits<Value>::place(value) } -> std::same_as<std::string>;
    { Traits<Value>::at(text) } -> std::same_as<Value>;
    { Traits<Value>::plausible(value, text) } -> std::same_as<Outcome>;
    { Traits<Value>::bench_conflict(bench) } -> std::same_as<std::string>;
    { Traits<Value>::background(value) } -> std::same_as<double>;
    { Traits<Value>::shows_the_same(value, value, accuracy) } -> std::same_as<bool>;

    // For people: the value alone ("3.30 Ω", "OL", "Port controller 2 +32 K"), and what stands before
    // it, with how the machine stood where that matters.
    { Traits<Value>::value_text(value, topology) } -> std::same_as<std::string>;
    { Traits<Value>::subject(value, bench, topology) } -> std::same_as<std::string>;

    // Its own fields of a job file. read() throws JsonRefused, with the field, on what cannot be.
    Traits<Value>::write(value, file);
    { Traits<Value>::read(field) } -> std::same_as<Value>;

    // Refused with a sentence that begins with `text`: a place or bench that does not go with this
    // machine and kind. Does not look at what plausible() looks at.
    { Traits<Value>::fits(value, bench, plan, text) } -> std::same_as<Outcome>;

    // Fills in word, channels and broad_first; the densities are filled in by reading_terms().
    Traits<Value>::bring(value, bench, topology, terms);

    // Outcomes coarse enough to be told apart at the bench, numbered from 0, and their words.
    { Traits<Value>::outcome_count(plan) } -> std::same_as<std::size_t>;
    { Traits<Value>::outcome_text(0, plan) } -> std::same_as<std::string>;
};

// A kind that is taken with the multimeter at a machine that is off has one number; empty where it is over
// the meter's range.
template <typename Value>
concept TakenWhenOff = Traits<Value>::unpowered && requires(Value& value, const Value& kept) {
    { Traits<Value>::number(value) } -> std::same_as<std::optional<double>&>;
    { Traits<Value>::number(kept) } -> std::same_as<const std::optional<double>&>;
};

// Such a kind that is not ohms to ground says which number of the multimeter it is. Requires a value that
// fits the plan.
template <typename Value>
concept AsksWhenOff = TakenWhenOff<Value> && requires(const Value& value, const MachinePlan& plan) {
    { Traits<Value>::asks(value, plan) } -> std::same_as<OffQuestion>;
};

// A kind whose quick line begins with a word of its own, which reads the rest of it. Refused with a sentence
// on what is missing or not understood. Lines that begin with a net or a port are read by
// core/entry/quick_line.h.
template <typename Value>
concept HasQuickWord = !Traits<Value>::quick_words.empty() && requires(QuickInput & typed) {
    { Traits<Value>::from_quick(typed) } -> std::same_as<Result<Value>>;
};

}  // namespace eh
