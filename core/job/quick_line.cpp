#include "core/job/quick_line.h"

#include <algorithm>
#include <array>
#include <optional>
#include <set>
#include <sstream>

#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {
namespace {

using Words = std::vector<std::string>;

Words split(const std::string& text) {
    std::istringstream stream(text);
    Words words;
    for (std::string word; stream >> word;)
        words.push_back(word);
    return words;
}

Words sorted_words(const std::string& text) {
    Words words = split(lower_case(text));
    std::sort(words.begin(), words.end());
    return words;
}

std::string joined(const Words& words) {
    std::string text;
    for (const std::string& word : words)
        text += (text.empty() ? "" : " ") + word;
    return text;
}

// All ways to type a net.
std::vector<std::string> names_of(const Net& net) {
    std::vector<std::string> names{net.id};
    names.insert(names.end(), net.names.begin(), net.names.end());
    return names;
}

bool take(Words& words, const std::string& word) {
    const auto found =
        std::find_if(words.begin(), words.end(), [&](const std::string& w) { return lower_case(w) == word; });
    if (found == words.end())
        return false;
    words.erase(found);
    return true;
}

// A number, with a unit standing apart from it joined on ("12.6 v", "30 mA").
struct Value {
    Quantity quantity;
    std::string text;
};

bool starts_like_number(const std::string& word) {
    const auto digit = word.find_first_of("0123456789");
    return digit != std::string::npos && digit <= 1 &&
           (digit == 0 || word[0] == '+' || word[0] == '-' || word[0] == '.' || word[0] == ',');
}

std::vector<Value> take_values(Words& words) {
    std::vector<Value> values;
    Words rest;
    for (std::size_t i = 0; i < words.size(); ++i) {
        const bool over_limit = lower_case(words[i]) == "ol";
        if (!over_limit && !starts_like_number(words[i])) {
            rest.push_back(words[i]);
            continue;
        }
        if (!over_limit && i + 1 < words.size() && !starts_like_number(words[i + 1])) {
            // "b" and "a" also name plug sides, so a lone letter counts as a unit only right behind a bare
            // number.
            const auto with_unit = parse_quantity(words[i] + " " + words[i + 1]);
            const auto alone = parse_quantity(words[i]);
            if (with_unit && alone && alone->unit == Unit::none && with_unit->unit != Unit::none) {
                values.push_back({*with_unit, words[i] + " " + words[i + 1]});
                ++i;
                continue;
            }
        }
        if (const auto quantity = parse_quantity(words[i]))
            values.push_back({*quantity, words[i]});
        else
            rest.push_back(words[i]);
    }
    words = rest;
    return values;
}

std::optional<std::string> port_named(const Words& words, const Topology& topology) {
    for (const std::string& word : words) {
        if (topology.find_port(lower_case(word)) != nullptr)
            return lower_case(word);
    }
    return std::nullopt;
}

// Takes the words of `name` out of `words`; nothing when one is missing.
std::optional<Words> without(Words words, const Words& name) {
    for (const std::string& word : name) {
        if (!take(words, word))
            return std::nullopt;
    }
    return words;
}

struct NetAndValues {
    const Net* net = nullptr;
    std::vector<Value> values;
};

// The net whose name leaves nothing but values when it is taken out of the line; the longest name wins, since
// names such as "pd 3v3" hold words that look like values.
std::optional<NetAndValues> find_net_and_values(const Words& words, const Topology& topology) {
    std::optional<NetAndValues> best;
    std::size_t longest = 0;
    const auto consider = [&](const Net& net, const Words& name) {
        auto rest = without(words, name);
        if (!rest || name.size() <= longest)
            return;
        auto values = take_values(*rest);
        if (!rest->empty())
            return;
        best = NetAndValues{&net, std::move(values)};
        longest = name.size();
    };
    for (const Net& net : topology.nets) {
        for (const std::string& text : names_of(net)) {
            Words name = sorted_words(text);
            consider(net, name);
            // A net's name without its port, and the port beside it.
            if (!net.port.empty() && std::find(name.begin(), name.end(), net.port) == name.end()) {
                name.push_back(net.port);
                consider(net, name);
            }
        }
    }
    return best;
}

Error unknown_net(const Words& words, const Topology& topology) {
    const auto near = quick_line_completions(joined(words).substr(0, 2), topology, 3);
    std::string hint = near.empty() ? "" : "; near it are: ";
    for (std::size_t i = 0; i < near.size(); ++i)
        hint += (i == 0 ? "" : ", ") + near[i];
    return refused("“" + joined(words) + "” is neither a net nor a port of this machine" + hint);
}

Result<const Block*> find_block(const Words& words, const Topology& topology) {
    const Words wanted = sorted_words(joined(words));
    for (const Block& block : topology.blocks) {
        if (sorted_words(block.id) == wanted || sorted_words(block.title) == wanted)
            return &block;
    }
    return refused("“" + joined(words) + "” is not a part of this machine; its parts are typed like " +
                   topology.blocks.front().id + " or by their title");
}

std::optional<MeterPattern> take_pattern(Words& words) {
    static const std::vector<std::pair<const char*, MeterPattern>> names{
        {"dark", MeterPattern::dark},      {"off", MeterPattern::dark},
        {"steady", MeterPattern::steady},  {"cycling", MeterPattern::cycling},
        {"cycles", MeterPattern::cycling}, {"retries", MeterPattern::cycling},
        {"flash", MeterPattern::flash},    {"blink", MeterPattern::flash}};
    for (const auto& [name, pattern] : names) {
        if (take(words, name))
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
        : words_(split(line)), topology_(topology) {
        reading_.configuration = bench;
    }

    Result<QuickEntry> parse() {
        if (words_.empty())
            return refused("type a reading, for instance: " + topology_.ports.front().id + " 5.1 0.2");
        if (take(words_, "hot"))
            return heat();
        if (take(words_, "inject"))
            return injection();
        if (take(words_, "wiggle"))
            return wiggle();
        if (take(words_, "look"))
            return look();
        if (take(words_, "through"))
            return through();
        if (take(words_, "diode"))
            return diode();
        if (take(words_, "says") || take(words_, "fw"))
            return firmware();
        if (take(words_, "talk"))
            return talk();
        const auto pattern = take_pattern(words_);
        if (!pattern) {
            if (const auto found = find_net_and_values(words_, topology_))
                return net(*found->net, found->values);
        }
        const auto values = take_values(words_);
        if (const auto port = port_named(words_, topology_)) {
            Words rest = words_;
            take(rest, *port);
            std::optional<PlugSide> side;
            if (take(rest, "a"))
                side = PlugSide::a;
            else if (take(rest, "b"))
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
                             std::optional<MeterPattern> pattern, const std::vector<Value>& values) {
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

    Result<QuickEntry> net(const Net& net, const std::vector<Value>& values) {
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
        if (words_.size() == 1 && (take(words_, "none") || take(words_, "nothing")))
            return finish();
        // Without a camera a place is found rather than a part, and no rise (shares: common practice,
        // estimated).
        if (take(words_, "alcohol"))
            reading_.certainty = 0.7;
        if (take(words_, "finger"))
            reading_.certainty = 0.4;
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
        const bool nothing_warm = take(words_, "none") || take(words_, "nothing");
        for (const Block& block : topology_.blocks) {
            if (!nothing_warm && take(words_, lower_case(block.id)))
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
        const bool drops = take(words_, "drops") || take(words_, "drop");
        const bool holds = take(words_, "holds") || take(words_, "ok");
        const auto port = port_named(words_, topology_);
        if (drops == holds)
            return refused("does the meter drop out when the plug is pushed? Write wiggle " +
                           topology_.ports.front().id + " drops, or holds");
        if (port) {
            take(words_, *port);
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
            if (take(words_, to_text(static_cast<Look>(i))))
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
        const bool changes = take(words_, "changes") || take(words_, "drops");
        const bool holds = take(words_, "holds");
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
            take(words_, *port);
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

namespace {

// Wires that go in at one end and out at the other.
bool has_two_ends(const Block& block) {
    return std::any_of(block.pins.begin(), block.pins.end(), [&](const auto& pin) {
        const auto ending = pin.first.rfind("_in");
        return ending != std::string::npos && block.pins.count(pin.first.substr(0, ending) + "_out") != 0;
    });
}

}  // namespace

std::vector<std::string> quick_line_completions(const std::string& typed, const Topology& topology,
                                                std::size_t most) {
    std::vector<std::string> all;
    for (const Port& port : topology.ports) {
        all.push_back(port.id + " ");
        all.push_back(port.id + " dark");
        all.push_back("wiggle " + port.id + " drops");
        all.push_back("wiggle " + port.id + " holds");
    }
    for (const Net& net : topology.nets) {
        for (const std::string& name : names_of(net))
            all.push_back(name + " ");
    }
    for (const Block& block : topology.blocks)
        all.push_back("hot " + block.id + " +");
    all.emplace_back("hot none");
    for (const Block& block : topology.blocks)
        all.push_back("look " + block.id + " ");
    for (const Block& block : topology.blocks) {
        if (has_two_ends(block))
            all.push_back("through " + block.id + " ");
    }
    for (const Net& net : topology.nets)
        all.push_back("diode " + net.id + " ");
    for (const Net& net : topology.nets)
        all.push_back("inject " + net.id + " 1v 3a ");
    for (const char* message :
         {"charging", "not charging", "adapter unknown", "limit", "full", "battery", "no battery", "nothing"})
        all.push_back(std::string("says ") + message);
    for (int end = 0; end < negotiation_end_count; ++end) {
        std::string word = to_text(static_cast<NegotiationEnd>(end));
        std::replace(word.begin(), word.end(), '_', ' ');
        all.push_back("talk " + word);
    }
    const std::string start = lower_case(typed);
    std::vector<std::string> matching;
    std::set<std::string> seen;
    for (const std::string& candidate : all) {
        if (matching.size() < most && candidate.size() > start.size() &&
            candidate.compare(0, start.size(), start) == 0 && seen.insert(candidate).second)
            matching.push_back(candidate);
    }
    return matching;
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
