// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/entry/quick_line.h"

#include <algorithm>
#include <optional>
#include <utility>

#include "core/readings/kind_list.h"
#include "core/readings/quick_words.h"

namespace eh {
namespace {

Error unknown_net(const Words& words, const Topology& topology) {
    const auto near = quick_line_completions(joined(words).substr(0, 2), topology, 3);
    std::string hint = near.empty() ? "" : "; near it are: ";
    for (std::size_t i = 0; i < near.size(); ++i) {
        // A completion ends with the blank that the next word follows.
        const std::string_view name = std::string_view(near[i]).substr(0, near[i].find_last_not_of(' ') + 1);
        hint += (i == 0 ? "" : ", ") + std::string(name);
    }
    return refused("“" + joined(words) + "” is neither a net nor a port of this machine" + hint);
}

std::optional<MeterPattern> take_pattern(Words& words) {
    static const std::vector<std::pair<const char*, MeterPattern>> names{
        {"dark", MeterPattern::dark},      {"off", MeterPattern::dark},
        {"steady", MeterPattern::steady},  {"cycling", MeterPattern::cycling},
        {"cycles", MeterPattern::cycling}, {"retries", MeterPattern::cycling},
        {"flash", MeterPattern::flash},    {"blink", MeterPattern::flash}};
    for (const auto& [name, pattern] : names) {
        if (take_word(words, name))
            return pattern;
    }
    return std::nullopt;
}

// A port that the words name, with nothing else; its plug side where they name it.
struct PortAndSide {
    std::string port;
    std::optional<PlugSide> side;
};
std::optional<PortAndSide> port_alone(Words words, const Topology& topology) {
    const auto port = port_named(words, topology);
    if (!port)
        return std::nullopt;
    take_word(words, *port);
    std::optional<PlugSide> side;
    if (take_word(words, "a"))
        side = PlugSide::a;
    else if (take_word(words, "b"))
        side = PlugSide::b;
    return words.empty() ? std::optional(PortAndSide{*port, side}) : std::nullopt;
}

Result<ReadingValue> at_port(const std::string& port, std::optional<MeterPattern> pattern,
                             const std::vector<TypedValue>& values) {
    MeterReading reading;
    const bool unlit = pattern == MeterPattern::dark || pattern == MeterPattern::flash;
    if (values.empty() && !unlit)
        return refused("the volts and amps of the meter are missing; write for instance " + port +
                       " 5.1 0.2, or " + port + " dark");
    if (values.size() > 2)
        return refused("a meter reading has volts and amps; “" + values[2].text + "” is one number too many");
    reading.meter.pattern = pattern.value_or(MeterPattern::steady);
    reading.amps_known = unlit;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const Quantity& q = values[i].quantity;
        const Unit unit = q.unit != Unit::none ? q.unit : i == 0 ? Unit::volts : Unit::amps;
        if (q.over_limit || (unit != Unit::volts && unit != Unit::amps))
            return refused("“" + values[i].text +
                           "” is not volts or amps; ohms need the net, for instance vbus " + port + " " +
                           values[i].text);
        if (unit == Unit::volts) {
            reading.meter.volts = q.value;
        } else {
            reading.meter.amps = q.value;
            reading.meter.peak_amps = q.value;
            reading.amps_known = true;
        }
    }
    return ReadingValue(reading);
}

// "main 12v 0.4v": two ends between which a net rises and falls.
bool are_two_volts(const std::vector<TypedValue>& values) {
    return values.size() == 2 && std::all_of(values.begin(), values.end(), [](const TypedValue& value) {
               return value.quantity.unit == Unit::volts && !value.quantity.over_limit;
           });
}

Result<ReadingValue> at_net(const Net& net, const std::vector<TypedValue>& values) {
    const std::string& name = net.names.empty() ? net.id : net.names.front();
    if (are_two_volts(values)) {
        const auto [low, high] = std::minmax(values[0].quantity.value, values[1].quantity.value);
        return ReadingValue(NetVoltsReading{net.id, high, low});
    }
    if (values.size() != 1)
        return refused(
            values.empty()
                ? "the value is missing; write for instance " + name + " 3r3 or " + name + " 12.6 v"
                : "one value belongs to a net, or two in volts between which it rises and falls; “" +
                      values[1].text + "” is one too many");
    const Quantity& q = values.front().quantity;
    if (q.unit == Unit::volts)
        return ReadingValue(NetVoltsReading{net.id, q.value, std::nullopt});
    if (q.unit == Unit::ohms)
        return ReadingValue(NetOhmsReading{net.id, q.over_limit ? std::nullopt : std::optional(q.value)});
    if (q.unit == Unit::none)
        return refused("is “" + values.front().text + "” volts or ohms? Write " + values.front().text +
                       "v or " + values.front().text + "r");
    return refused("a net is read in volts or ohms; “" + values.front().text + "” is neither");
}

// A line without a word for its kind: a net or a port, and values.
Result<ReadingValue> at_net_or_port(QuickInput& typed) {
    const auto pattern = take_pattern(typed.words);
    if (!pattern) {
        if (const auto found = find_net_and_values(typed.words, typed.topology))
            return at_net(*found->net, found->values);
    }
    const auto values = take_values(typed.words);
    if (const auto place = port_alone(typed.words, typed.topology)) {
        typed.plug_into(place->port, place->side);
        return at_port(place->port, pattern, values);
    }
    if (pattern)
        return refused("a pattern such as dark or cycling belongs to a port; write for instance " +
                       typed.topology.ports.front().id + " dark");
    return unknown_net(typed.words, typed.topology);
}

template <typename Value>
bool take_quick_word(Words& words) {
    for (const std::string_view word : Traits<Value>::quick_words) {
        if (take_word(words, std::string(word)))
            return true;
    }
    return false;
}

// What a line says of plug, button and power besides its reading.
void take_bench_words(QuickInput& typed) {
    if (take_word(typed.words, "held"))
        typed.bench.plug_held = true;
    if (take_word(typed.words, "pressed"))
        typed.bench.button = Button::pressed;
    if (take_word(typed.words, "standby"))
        typed.bench.button = Button::kept_off;
    if (take_word(typed.words, "first"))
        typed.bench.moment = Moment::at_once;
    if (take_word(typed.words, "cut"))
        typed.bench.power_was_cut = true;
}

// "tester 20.1 4.5": under load; "tester 19.6": nothing drawn.
Result<ReadingValue> at_tester(QuickInput& typed) {
    const auto pattern = take_pattern(typed.words);
    const auto values = take_values(typed.words);
    if (!typed.words.empty())
        return refused("“" + joined(typed.words) +
                       "” is one word too many; write for instance tester 20.1 4.5, or tester dark");
    typed.bench.charger_connected = true;
    typed.bench.bare_plug = false;
    typed.bench.tester = values.size() == 1 ? Tester::no_load : Tester::loaded;
    if (typed.topology.find_port(typed.bench.port) == nullptr)
        typed.bench.port = typed.topology.ports.front().id;
    return at_port("tester", pattern, values);
}

Result<ReadingValue> read_line(QuickInput& typed) {
    take_bench_words(typed);
    if (take_word(typed.words, "tester"))
        return at_tester(typed);
    std::optional<Result<ReadingValue>> read;
    any_kind([&]<typename Value>(std::type_identity<Value>) {
        if constexpr (HasQuickWord<Value>) {
            if (take_quick_word<Value>(typed.words)) {
                auto value = Traits<Value>::from_quick(typed);
                read = value ? Result<ReadingValue>(std::move(value).value()) : value.error();
            }
        }
        return read.has_value();
    });
    return read ? *std::move(read) : at_net_or_port(typed);
}

}  // namespace

Result<QuickEntry> parse_quick_line(const std::string& line, const Topology& topology,
                                    const BenchConfiguration& bench) {
    QuickInput typed{split_words(line), topology, bench};
    if (typed.words.empty())
        return refused("type a reading, for instance: " + topology.ports.front().id + " 5.1 0.2");
    auto value = read_line(typed);
    if (!value)
        return value.error();
    QuickEntry entry;
    entry.reading.configuration = typed.bench;
    entry.reading.value = std::move(value).value();
    if (auto check = check_plausible(entry.reading, {}); !check)
        return check.error();
    entry.echo = describe(entry.reading, topology);
    entry.warning = bench_conflict(entry.reading.kind(), entry.reading.configuration);
    return entry;
}

}  // namespace eh
