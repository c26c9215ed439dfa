// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/entry/quick_line.h"

#include <algorithm>
#include <array>
#include <optional>

#include "core/base/text.h"
#include "core/entry/quick_words.h"
#include "core/readings/certainty.h"

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
        {"no picture", FirmwareMessage::none}};
    for (const auto& [name, message] : names) {
        if (text == name)
            return message;
    }
    return std::nullopt;
}

std::optional<NegotiationEnd> talk_in(const Words& words) {
    std::string text = lower_case(joined(words));
    std::replace(text.begin(), text.end(), ' ', '_');
    return negotiation_end_from(text);
}

class Parser {
  public:
    Parser(const std::string& line, const Topology& topology, const BenchConfiguration& bench)
        : words_(split_words(line)), topology_(topology) {
        reading_.configuration = bench;
    }

    Result<QuickEntry> parse() {
        if (words_.empty())
            return refused("type a reading, for instance: " + topology_.ports.front().id + " 5.1 0.2");
        if (take_word(words_, "hot"))
            return heat();
        if (take_word(words_, "inject"))
            return injection();
        if (take_word(words_, "wiggle"))
            return wiggle();
        if (take_word(words_, "look"))
            return look();
        if (take_word(words_, "through"))
            return through();
        if (take_word(words_, "diode"))
            return diode();
        if (take_word(words_, "says") || take_word(words_, "fw"))
            return firmware();
        if (take_word(words_, "talk"))
            return talk();
        const auto pattern = take_pattern(words_);
        if (!pattern) {
            if (const auto found = find_net_and_values(words_, topology_))
                return net(*found->net, found->values);
        }
        const auto values = take_values(words_);
        if (const auto port = port_named(words_, topology_)) {
            Words rest = words_;
            take_word(rest, *port);
            std::optional<PlugSide> side;
            if (take_word(rest, "a"))
                side = PlugSide::a;
            else if (take_word(rest, "b"))
                side = PlugSide::b;
            if (rest.empty())
                return meter(*port, side, pattern, values);
        }
        if (pattern)
            return refused("a pattern such as dark or cycling belongs to a port; write for instance " +
                           topology_.ports.front().id + " dark");
        return unknown_net(words_, topology_);
    }

  private:
    Result<QuickEntry> finish() {
        if (auto check = check_reading(); !check)
            return check.error();
        QuickEntry entry;
        entry.echo = describe(reading_, topology_);
        entry.warning = bench_conflict(reading_.kind, reading_.configuration);
        entry.reading = std::move(reading_);
        return entry;
    }

    Outcome check_reading() const {
        switch (reading_.kind) {
            case ReadingKind::meter:
                if (auto volts = check_plausible(reading_.meter.volts, Unit::volts, {}); !volts)
                    return volts;
                return check_plausible(reading_.meter.amps, Unit::amps, {});
            case ReadingKind::net_volts:
                return check_plausible(reading_.value, Unit::volts, {});
            case ReadingKind::net_ohms:
            case ReadingKind::through:
                return check_plausible(reading_.value, Unit::ohms, {});
            case ReadingKind::diode:
                return check_plausible(reading_.value, Unit::volts, {});
            default:
                return Done{};
        }
    }

    void plug_into(const std::string& port, std::optional<PlugSide> side) {
        reading_.configuration.charger_connected = true;
        if (reading_.configuration.port != port)
            reading_.configuration.side = PlugSide::a;
        reading_.configuration.port = port;
        if (side)
            reading_.configuration.side = *side;
    }

    Result<QuickEntry> meter(const std::string& port, std::optional<PlugSide> side,
                             std::optional<MeterPattern> pattern, const std::vector<TypedValue>& values) {
        plug_into(port, side);
        reading_.kind = ReadingKind::meter;
        const bool unlit = pattern == MeterPattern::dark || pattern == MeterPattern::flash;
        if (values.empty() && !unlit)
            return refused("the volts and amps of the meter are missing; write for instance " + port +
                           " 5.1 0.2, or " + port + " dark");
        if (values.size() > 2)
            return refused("a meter reading has volts and amps; “" + values[2].text +
                           "” is one number too many");
        reading_.meter.pattern = pattern.value_or(MeterPattern::steady);
        reading_.amps_known = unlit;
        for (std::size_t i = 0; i < values.size(); ++i) {
            const Quantity& q = values[i].quantity;
            const Unit unit = q.unit != Unit::none ? q.unit : i == 0 ? Unit::volts : Unit::amps;
            if (q.over_limit || (unit != Unit::volts && unit != Unit::amps))
                return refused("“" + values[i].text +
                               "” is not volts or amps; ohms need the net, for instance vbus " + port + " " +
                               values[i].text);
            if (unit == Unit::volts) {
                reading_.meter.volts = q.value;
            } else {
                reading_.meter.amps = q.value;
                reading_.meter.peak_amps = q.value;
                reading_.amps_known = true;
            }
        }
        return finish();
    }

    Result<QuickEntry> net(const Net& net, const std::vector<TypedValue>& values) {
        const std::string& name = net.names.empty() ? net.id : net.names.front();
        if (values.size() != 1)
            return refused(values.empty()
                               ? "the value is missing; write for instance " + name + " 3r3 or " + name +
                                     " 12.6 v"
                               : "one value belongs to a net; “" + values[1].text + "” is one too many");
        const Quantity& q = values.front().quantity;
        reading_.place = net.id;
        reading_.value = q.value;
        reading_.over_limit = q.over_limit;
        if (q.unit == Unit::volts)
            reading_.kind = ReadingKind::net_volts;
        else if (q.unit == Unit::ohms)
            reading_.kind = ReadingKind::net_ohms;
        else if (q.unit == Unit::none)
            return refused("is “" + values.front().text + "” volts or ohms? Write " + values.front().text +
                           "v or " + values.front().text + "r");
        else
            return refused("a net is read in volts or ohms; “" + values.front().text + "” is neither");
        return finish();
    }

    Result<QuickEntry> heat() {
        reading_.kind = ReadingKind::hot_part;
        if (words_.size() == 1 && (take_word(words_, "none") || take_word(words_, "nothing")))
            return finish();
        // Without a camera a place is found rather than a part, and no rise (shares: common practice,
        // estimated).
        if (take_word(words_, "alcohol"))
            reading_.certainty = alcohol_certainty;
        if (take_word(words_, "finger"))
            reading_.certainty = finger_certainty;
        reading_.rise_known = reading_.certainty == 1.0;
        const auto values = take_values(words_);
        const auto block = find_block(words_, topology_);
        if (!block)
            return block.error();
        reading_.place = (*block)->id;
        if (!reading_.rise_known && values.empty())
            return finish();
        if (values.size() != 1 || !reading_.rise_known)
            return refused("by how many kelvin is it warmer than its surroundings? Write for instance hot " +
                           (*block)->id + " +30");
        const Unit unit = values.front().quantity.unit;
        if (unit != Unit::none && unit != Unit::kelvin && unit != Unit::celsius)
            return refused("“" + values.front().text + "” is not a rise in kelvin");
        reading_.value = values.front().quantity.value;
        if (auto plausible = check_plausible(reading_.value, Unit::kelvin, {}); !plausible)
            return plausible.error();
        return finish();
    }

    Result<QuickEntry> injection() {
        const std::string example = "; write for instance inject " + topology_.ports.front().vbus +
                                    " 1v 3a 0.3v 3a " + topology_.blocks.front().id + " +30";
        reading_.kind = ReadingKind::injection;
        const bool nothing_warm = take_word(words_, "none") || take_word(words_, "nothing");
        for (const Block& block : topology_.blocks) {
            if (!nothing_warm && take_word(words_, lower_case(block.id)))
                reading_.place = block.id;
        }
        const auto found = find_net_and_values(words_, topology_);
        if (!found)
            return refused("name the net that the supply feeds" + example);
        const std::size_t wanted = reading_.place.empty() ? 4 : 5;
        if (found->values.size() != wanted)
            return refused(
                "an injection has the volts and limit that were set, the volts and amps that came, and "
                "the hottest part with its rise, or none" +
                example);
        constexpr std::array units{Unit::volts, Unit::amps, Unit::volts, Unit::amps, Unit::kelvin};
        for (std::size_t i = 0; i < wanted; ++i) {
            const Quantity& quantity = found->values[i].quantity;
            if (quantity.over_limit || (quantity.unit != Unit::none && quantity.unit != units[i]))
                return refused("“" + found->values[i].text + "” does not stand where it should" + example);
            if (auto plausible = check_plausible(quantity.value, units[i], {}); !plausible)
                return plausible.error();
        }
        const auto value = [&](std::size_t i) { return found->values[i].quantity.value; };
        reading_.configuration.injection = Injection{found->net->id, value(0), value(1)};
        reading_.meter.pattern = MeterPattern::steady;
        reading_.meter.volts = value(2);
        reading_.meter.amps = value(3);
        if (!reading_.place.empty())
            reading_.value = value(4);
        return finish();
    }

    Result<QuickEntry> wiggle() {
        const bool drops = take_word(words_, "drops") || take_word(words_, "drop");
        const bool holds = take_word(words_, "holds") || take_word(words_, "ok");
        const auto port = port_named(words_, topology_);
        if (drops == holds)
            return refused("does the meter drop out when the plug is pushed? Write wiggle " +
                           topology_.ports.front().id + " drops, or holds");
        if (port) {
            take_word(words_, *port);
            plug_into(*port, std::nullopt);
        }
        if (!words_.empty())
            return refused("“" + joined(words_) + "” is not a port of this machine");
        reading_.kind = ReadingKind::wiggle;
        reading_.drops_out = drops;
        return finish();
    }

    Result<QuickEntry> look() {
        const std::string example = "; write for instance look " + topology_.blocks.front().id +
                                    " burnt, or corroded, broken, dirty, sound";
        std::optional<Look> seen;
        for (int i = 0; i < look_count && !seen; ++i) {
            if (take_word(words_, to_text(static_cast<Look>(i))))
                seen = static_cast<Look>(i);
        }
        if (!seen)
            return refused("what is to be seen" + example);
        const auto block = find_block(words_, topology_);
        if (!block)
            return block.error();
        reading_.kind = ReadingKind::look;
        reading_.place = (*block)->id;
        reading_.look = *seen;
        return finish();
    }

    Result<QuickEntry> through() {
        const bool changes = take_word(words_, "changes") || take_word(words_, "drops");
        const bool holds = take_word(words_, "holds");
        const auto values = take_values(words_);
        const auto block = find_block(words_, topology_);
        if (!block)
            return block.error();
        const std::string example = "; write for instance through " + (*block)->id + " 0r1 holds";
        if (values.size() != 1)
            return refused("one value in ohms, of the worst wire, is wanted" + example);
        const Quantity& q = values.front().quantity;
        if (!q.over_limit && q.unit != Unit::ohms && q.unit != Unit::none)
            return refused("“" + values.front().text + "” is not ohms" + example);
        reading_.kind = ReadingKind::through;
        reading_.place = (*block)->id;
        reading_.value = q.value;
        reading_.over_limit = q.over_limit;
        reading_.pushed = changes || holds;
        reading_.drops_out = changes;
        return finish();
    }

    Result<QuickEntry> diode() {
        const auto found = find_net_and_values(words_, topology_);
        if (!found || found->values.size() != 1)
            return refused(
                "name the net and what diode mode shows, red on ground; write for instance diode " +
                topology_.ports.front().vbus + " 0.52, or ol");
        const Quantity& q = found->values.front().quantity;
        if (!q.over_limit && q.unit != Unit::volts && q.unit != Unit::none)
            return refused("“" + found->values.front().text + "” is not volts");
        reading_.kind = ReadingKind::diode;
        reading_.place = found->net->id;
        reading_.value = q.value;
        reading_.over_limit = q.over_limit;
        return finish();
    }

    Result<QuickEntry> firmware() {
        Words rest;
        for (const std::string& word : words_) {
            const auto number = word.back() == '%' ? parse_quantity(word.substr(0, word.size() - 1))
                                                   : Result<Quantity>(refused("no percentage"));
            if (!number) {
                rest.push_back(word);
                continue;
            }
            if (number->value < 0.0 || number->value > 100.0)
                return refused("a battery is between 0 and 100 % full, not " + word);
            reading_.percent = number->value;
        }
        words_ = rest;
        const auto message = message_in(words_);
        if (!message)
            return refused(
                "what does the machine say? Write says charging, says not charging, says adapter unknown, "
                "says limit, says full, says battery, says no battery or says nothing");
        reading_.kind = ReadingKind::firmware;
        reading_.firmware = *message;
        return finish();
    }

    Result<QuickEntry> talk() {
        if (const auto port = port_named(words_, topology_)) {
            take_word(words_, *port);
            reading_.configuration.port = *port;
        }
        const auto end = talk_in(words_);
        if (!end)
            return refused(
                "what did the conversation come to? Write talk silent, talk garbled, talk unanswered, talk "
                "unrequested, talk refused, talk unready, talk asked less, talk short offer, talk torn or "
                "talk "
                "contract");
        reading_.kind = ReadingKind::talk;
        reading_.talk = *end;
        return finish();
    }

    Words words_;
    const Topology& topology_;
    Reading reading_;
};

}  // namespace

Result<QuickEntry> parse_quick_line(const std::string& line, const Topology& topology,
                                    const BenchConfiguration& bench) {
    return Parser(line, topology, bench).parse();
}

std::string bench_conflict(ReadingKind kind, const BenchConfiguration& bench) {
    switch (kind) {
        case ReadingKind::net_ohms:
        case ReadingKind::through:
        case ReadingKind::diode:
            if (bench.charger_connected)
                return "Unplug the charger first: the bench says it is in.";
            if (bench.battery_in)
                return "Disconnect the battery first: the bench says it is in.";
            return {};
        case ReadingKind::look:
            return {};
        case ReadingKind::meter:
        case ReadingKind::wiggle:
        case ReadingKind::firmware:
        case ReadingKind::talk:
            return bench.charger_connected ? "" : "This reading needs the charger plugged in.";
        case ReadingKind::injection:
            if (bench.charger_connected)
                return "Inject with the charger unplugged: the bench says it is plugged in.";
            if (bench.battery_in)
                return "Inject with the battery disconnected: the bench says it is in.";
            return {};
        case ReadingKind::net_volts:
        case ReadingKind::hot_part:
            return bench.charger_connected || bench.battery_in
                       ? ""
                       : "This reading needs power: the bench says no charger and no battery.";
    }
    return {};
}

}  // namespace eh
