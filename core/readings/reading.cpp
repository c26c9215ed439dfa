// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/reading.h"

#include <array>

#include "core/electrics/engineering.h"

namespace eh {
namespace {

constexpr std::array<const char*, reading_kind_count> kind_names{
    "meter", "volts", "ohms", "hot", "firmware", "wiggle", "inject", "look", "through", "diode", "talk"};

constexpr std::array<const char*, firmware_message_count> firmware_sentences{"no picture",
                                                                             "says it is charging",
                                                                             "says plugged in, not charging",
                                                                             "does not know the adapter",
                                                                             "held by charge limit",
                                                                             "says it is full",
                                                                             "says it runs on battery",
                                                                             "finds no battery"};

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

constexpr std::array<const char*, look_count> look_sentences{"looks sound", "burnt or discoloured",
                                                             "corroded, marks of liquid",
                                                             "broken, loose or a bad joint", "dirty"};

std::string title_of_net(const Topology& topology, const std::string& id) {
    const Net* net = topology.find_net(id);
    return net == nullptr ? id : net->title;
}

std::string title_of_block(const Topology& topology, const std::string& id) {
    const Block* block = topology.find_block(id);
    return block == nullptr ? id : block->title;
}

std::string titles(const Topology& topology, const std::vector<std::string>& blocks) {
    std::string list;
    for (const std::string& id : blocks)
        list += (list.empty() ? "" : ", ") + title_of_block(topology, id);
    return list;
}

std::string hottest_text(const Reading& reading, const Topology& topology) {
    if (reading.place.empty())
        return "nothing warm";
    std::string text = title_of_block(topology, reading.place);
    text += reading.rise_known ? " +" + format_quantity(reading.value, Unit::kelvin, 2) : " warm";
    if (reading.certainty < 1.0)
        text += ", " + format_quantity(100.0 * reading.certainty, Unit::none, 2) + " % sure";
    return text;
}

}  // namespace

std::string to_text(ReadingKind kind) {
    return kind_names[static_cast<std::size_t>(kind)];
}

std::optional<ReadingKind> reading_kind_from(const std::string& text) {
    for (std::size_t i = 0; i < kind_names.size(); ++i) {
        if (text == kind_names[i])
            return static_cast<ReadingKind>(i);
    }
    return std::nullopt;
}

bool is_unpowered(ReadingKind kind) {
    return kind == ReadingKind::net_ohms || kind == ReadingKind::through || kind == ReadingKind::diode;
}

std::string describe(Look look) {
    return look_sentences[static_cast<std::size_t>(look)];
}

std::string describe(const BenchConfiguration& configuration, const Topology& topology) {
    std::string text;
    if (configuration.charger_connected) {
        const Port* port = topology.find_port(configuration.port);
        text = port == nullptr ? configuration.port : port->title;
        if (port != nullptr && port->family == "usb-c")
            text += configuration.side == PlugSide::a ? ", side A" : ", side B";
        if (configuration.charger == Owner::customer)
            text += ", customer's charger";
        if (configuration.lead == Owner::customer)
            text += ", customer's lead";
    } else {
        text = "No charger";
    }
    if (configuration.injection)
        text = format_quantity(configuration.injection->volts, Unit::volts) + ", at most " +
               format_quantity(configuration.injection->limit_amps, Unit::amps) + ", into " +
               title_of_net(topology, configuration.injection->net);
    text += configuration.battery_in ? ", battery in" : ", battery out";
    if (!configuration.removed.empty())
        text += ", without: " + titles(topology, configuration.removed);
    if (!configuration.replaced.empty())
        text += ", after work on: " + titles(topology, configuration.replaced);
    if (!configuration.lent.empty())
        text += ", known-good for: " + titles(topology, configuration.lent);
    if (configuration.second_instruments)
        text += ", second instruments";
    return text;
}

std::string describe_value(const Reading& reading, const Topology& topology) {
    switch (reading.kind) {
        case ReadingKind::meter: {
            if (reading.meter.pattern == MeterPattern::dark)
                return "meter dark";
            if (reading.meter.pattern == MeterPattern::flash)
                return "meter lit for a moment, then dark";
            std::string text = format_quantity(reading.meter.volts, Unit::volts);
            if (reading.amps_known)
                text += ", " + format_quantity(reading.meter.amps, Unit::amps);
            if (reading.meter.pattern == MeterPattern::steady)
                return text + ", steady";
            text += ", coming and going";
            return reading.meter.period_s > 0.0
                       ? text + " every " + format_quantity(reading.meter.period_s, Unit::seconds, 2)
                       : text;
        }
        case ReadingKind::net_volts:
            return format_quantity(reading.value, Unit::volts);
        case ReadingKind::net_ohms:
            return reading.over_limit ? "OL" : format_quantity(reading.value, Unit::ohms);
        case ReadingKind::hot_part:
            return hottest_text(reading, topology);
        case ReadingKind::injection:
            return format_quantity(reading.meter.volts, Unit::volts) + ", " +
                   format_quantity(reading.meter.amps, Unit::amps) + ", " + hottest_text(reading, topology);
        case ReadingKind::firmware:
            return firmware_sentences[static_cast<std::size_t>(reading.firmware)] +
                   (reading.percent
                        ? ", battery at " + format_quantity(*reading.percent, Unit::none, 2) + " %"
                        : std::string());
        case ReadingKind::talk:
            return talk_sentences[static_cast<std::size_t>(reading.talk)];
        case ReadingKind::look:
            return describe(reading.look);
        case ReadingKind::through:
            return (reading.over_limit ? "OL" : format_quantity(reading.value, Unit::ohms)) +
                   (!reading.pushed     ? ""
                    : reading.drops_out ? ", changes when pushed"
                                        : ", holds when pushed");
        case ReadingKind::diode:
            return reading.over_limit ? "OL" : format_quantity(reading.value, Unit::volts);
        case ReadingKind::wiggle:
            return reading.drops_out ? "drops out when pushed" : "holds when pushed";
    }
    return {};
}

std::string describe(const Reading& reading, const Topology& topology) {
    std::string what;
    switch (reading.kind) {
        case ReadingKind::meter:
        case ReadingKind::talk:
            what = describe(reading.configuration, topology);
            break;
        case ReadingKind::look:
            what = title_of_block(topology, reading.place);
            break;
        case ReadingKind::through:
            what = "Through " + title_of_block(topology, reading.place);
            break;
        case ReadingKind::net_volts:
        case ReadingKind::net_ohms:
        case ReadingKind::diode:
            what = title_of_net(topology, reading.place);
            if (!reading.configuration.removed.empty() || !reading.configuration.replaced.empty() ||
                reading.kind == ReadingKind::net_volts)
                what += " (" + describe(reading.configuration, topology) + ")";
            if (reading.kind == ReadingKind::diode)
                what += ", diode mode";
            break;
        case ReadingKind::hot_part:
            what = "Hottest part";
            break;
        case ReadingKind::injection:
            what = describe(reading.configuration, topology);
            break;
        case ReadingKind::firmware:
            what = "The machine";
            if (!reading.configuration.lent.empty())
                what += " (" + describe(reading.configuration, topology) + ")";
            break;
        case ReadingKind::wiggle:
            what = describe(reading.configuration, topology) + ", wiggled";
            break;
    }
    return what + ": " + describe_value(reading, topology);
}

}  // namespace eh
