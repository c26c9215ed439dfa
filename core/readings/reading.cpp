// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/reading.h"

#include "core/electrics/engineering.h"
#include "core/readings/bench_text.h"
#include "core/readings/kind_list.h"

namespace eh {
namespace {

// Every kind stands where its number says, and can say what is asked of a kind.
template <typename... Value, std::size_t... index>
constexpr bool in_order(std::type_identity<std::variant<Value...>>, std::index_sequence<index...>) {
    static_assert((KindOfReading<Value> && ...));
    static_assert(((HasQuickWord<Value> || Traits<Value>::quick_words.empty()) && ...));
    static_assert(((TakenWhenOff<Value> || !Traits<Value>::unpowered) && ...));
    return ((static_cast<std::size_t>(Traits<Value>::kind) == index) && ...);
}
static_assert(in_order(std::type_identity<ReadingValue>{}, std::make_index_sequence<reading_kind_count>{}));

// Calls `ask` with the values of the reading and their traits.
template <typename Ask>
auto ask_values(const Reading& reading, Ask ask) {
    return std::visit([&]<typename Value>(const Value& value) { return ask(value, Traits<Value>{}); },
                      reading.value);
}

template <typename Number, typename Variant>
Number number_of(Variant& values) {
    return std::visit(
        []<typename Value>(Value& value) -> Number {
            using Kind = Traits<std::remove_const_t<Value>>;
            if constexpr (Kind::unpowered)
                return &Kind::number(value);
            else
                return nullptr;
        },
        values);
}

// Refused where the bench contradicts itself, or shows of a charger alone what only a machine has.
Outcome check_stance(ReadingKind kind, const BenchConfiguration& bench, const std::string& where) {
    if (bench.bare_plug && bench.charger_connected)
        return refused("a bare plug and the charger's cannot both be in the port", where);
    if (bench.tester != Tester::none && !bench.charger_connected)
        return refused("a tester shows a charger that is connected; the bench says none is", where);
    if (bench.tester != Tester::none && kind != ReadingKind::meter && !is_by_eye(kind))
        return refused("of a charger that feeds no machine only the meter can be read", where);
    if (bench.moment == Moment::at_once && !feeds_machine(bench))
        return refused("the first seconds are those after plugging in; the bench says nothing is", where);
    if (bench.moment == Moment::at_once && kind != ReadingKind::meter && kind != ReadingKind::net_volts)
        return refused(
            "in the first seconds only the meter and volts are read; the rest is of a machine that has "
            "settled",
            where);
    const bool fed = bench.charger_connected || bench.battery_in;
    if (bench.button == Button::pressed && !fed)
        return refused("with charger and battery out the power button starts nothing", where);
    return Done{};
}

}  // namespace

std::string Reading::place() const {
    return ask_values(*this, [](const auto& seen, auto traits) { return traits.place(seen); });
}

ReadingValue blank_value(ReadingKind kind, const std::string& place) {
    return ask_kind<ReadingValue>(kind, [&]<typename Value>(std::type_identity<Value>) -> ReadingValue {
        return Traits<Value>::at(place);
    });
}

std::string to_text(ReadingKind kind) {
    return ask_kind<std::string>(
        kind, []<typename Value>(std::type_identity<Value>) { return std::string(Traits<Value>::word); });
}

std::optional<ReadingKind> reading_kind_from(const std::string& text) {
    std::optional<ReadingKind> kind;
    any_kind([&]<typename Value>(std::type_identity<Value>) {
        if (text == Traits<Value>::word)
            kind = Traits<Value>::kind;
        return kind.has_value();
    });
    return kind;
}

bool is_unpowered(ReadingKind kind) {
    return ask_kind<bool>(kind,
                          []<typename Value>(std::type_identity<Value>) { return Traits<Value>::unpowered; });
}

bool is_by_eye(ReadingKind kind) {
    return ask_kind<bool>(kind,
                          []<typename Value>(std::type_identity<Value>) { return Traits<Value>::by_eye; });
}

std::vector<SeenPart> parts_seen(const Reading& reading) {
    if (const auto* look = reading.as<LookReading>())
        return {{look->part, look->seen, look->flaw}};
    const auto* board = reading.as<BoardLookReading>();
    return board == nullptr ? std::vector<SeenPart>{} : board->found;
}

std::optional<double>* number_when_off(Reading& reading) {
    return number_of<std::optional<double>*>(reading.value);
}

const std::optional<double>* number_when_off(const Reading& reading) {
    return number_of<const std::optional<double>*>(reading.value);
}

std::optional<OffQuestion> off_question(const Reading& reading, const MachinePlan& plan) {
    return std::visit(
        [&]<typename Value>(const Value& value) -> std::optional<OffQuestion> {
            if constexpr (AsksWhenOff<Value>)
                return Traits<Value>::asks(value, plan);
            else
                return std::nullopt;
        },
        reading.value);
}

std::string bench_conflict(ReadingKind kind, const BenchConfiguration& bench) {
    const bool of_the_machine = kind != ReadingKind::meter && !is_by_eye(kind) && !is_unpowered(kind);
    if (of_the_machine && bench.charger_connected && !feeds_machine(bench))
        return "Put the charger back into the machine first: the bench says it is at a tester.";
    return ask_kind<std::string>(kind, [&]<typename Value>(std::type_identity<Value>) {
        return Traits<Value>::bench_conflict(bench);
    });
}

Outcome check_plausible(const Reading& reading, const std::string& where) {
    return ask_values(reading,
                      [&](const auto& value, auto traits) { return traits.plausible(value, where); });
}

Outcome check_reading(const Reading& reading, const MachinePlan& plan) {
    const std::string where = "reading " + reading.id;
    const auto& bench = reading.configuration;
    if (bench.charger_connected && plan.topology().find_port(bench.port) == nullptr)
        return refused("this machine has no port “" + bench.port + "”", where);
    if (Outcome stands = check_stance(reading.kind(), bench, where); !stands)
        return stands;
    const Outcome fits = ask_values(
        reading, [&](const auto& value, auto traits) { return traits.fits(value, bench, plan, where); });
    return fits ? check_plausible(reading, where) : fits;
}

ReadingTerms reading_terms(const Reading& reading, const Topology& topology) {
    return ask_values(reading, [&](const auto& value, auto traits) {
        ReadingTerms terms;
        terms.words = traits.words;
        terms.broad_values = traits.background(value);
        terms.broad = terms.broad_values / terms.words;
        traits.bring(value, reading.configuration, topology, terms);
        return terms;
    });
}

bool show_the_same(const Reading& a, const Reading& b, const AccuracyOptions& accuracy) {
    return ask_values(a, [&]<typename Value>(const Value& value, auto traits) {
        const Value* other = b.as<Value>();
        return other != nullptr && traits.shows_the_same(value, *other, accuracy);
    });
}

std::size_t outcome_count(ReadingKind kind, const MachinePlan& plan) {
    return ask_kind<std::size_t>(
        kind, [&]<typename Value>(std::type_identity<Value>) { return Traits<Value>::outcome_count(plan); });
}

std::string outcome_text(ReadingKind kind, int outcome, const MachinePlan& plan) {
    return ask_kind<std::string>(kind, [&]<typename Value>(std::type_identity<Value>) {
        return Traits<Value>::outcome_text(outcome, plan);
    });
}

std::string describe_value(const Reading& reading, const Topology& topology) {
    return ask_values(reading,
                      [&](const auto& value, auto traits) { return traits.value_text(value, topology); });
}

std::string describe(const Reading& reading, const Topology& topology) {
    return ask_values(reading, [&](const auto& value, auto traits) {
        return traits.subject(value, reading.configuration, topology) + ": " +
               traits.value_text(value, topology);
    });
}

}  // namespace eh
