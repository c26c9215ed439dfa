// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/reading_json.h"

#include "core/base/json_fields.h"
#include "core/base/json_text.h"
#include "core/electrics/engineering.h"

namespace eh {

using nlohmann::json;

namespace {

const char* owner_name(Owner owner) {
    return owner == Owner::customer ? "customer" : "bench";
}

void put_value_or_ol(json& target, const Reading& r, const char* unit) {
    target["unit"] = unit;
    if (r.over_limit)
        target["value"] = "OL";
    else
        target["value"] = r.value;
}

Owner read_owner(const JsonReader& field, const std::string& key) {
    const std::string owner = field.text(key, "bench");
    if (owner != "bench" && owner != "customer")
        field.at(key).refuse("“" + owner + "” is not known here; use bench or customer");
    return owner == "customer" ? Owner::customer : Owner::bench;
}

double plausible(const JsonReader& field, const std::string& key, Unit unit) {
    const double value = field.number(key);
    if (auto check = check_plausible(value, unit, {}); !check)
        field.at(key).refuse(check.error().message);
    return value;
}

void check_unit(const JsonReader& field, const char* wanted) {
    const std::string unit = field.text("unit", wanted);
    if (unit != wanted)
        field.at("unit").refuse("a value in “" + unit + "” does not fit this reading; it is in " + wanted);
}

void read_meter(const JsonReader& field, Reading& r) {
    r.meter.pattern =
        field.has("pattern") ? read_word(field.at("pattern"), &meter_pattern_from) : MeterPattern::steady;
    const bool lit = r.meter.pattern == MeterPattern::steady || r.meter.pattern == MeterPattern::cycling;
    if (lit || field.has("volts"))
        r.meter.volts = plausible(field, "volts", Unit::volts);
    r.amps_known = field.has("amps");
    if (r.amps_known)
        r.meter.amps = plausible(field, "amps", Unit::amps);
    r.meter.volts_spread = field.number("volts_spread", 0.0);
    r.meter.amps_spread = field.number("amps_spread", 0.0);
    r.meter.peak_amps = field.number("peak_amps", 0.0);
    r.meter.period_s = field.number("period_s", 0.0);
}

void read_value_or_ol(const JsonReader& field, Reading& r, Unit unit, const char* name) {
    check_unit(field, name);
    r.over_limit = field.at("value").raw().is_string() && field.text("value") == "OL";
    if (!r.over_limit)
        r.value = plausible(field, "value", unit);
}

}  // namespace

json write_configuration(const BenchConfiguration& c) {
    json j{{"charger_connected", c.charger_connected},
           {"charger", owner_name(c.charger)},
           {"lead", owner_name(c.lead)},
           {"side", c.side == PlugSide::b ? "b" : "a"},
           {"battery_in", c.battery_in},
           {"case_open", c.case_open},
           {"board_out", c.board_out}};
    put_if(j, "port", c.port);
    if (c.injection)
        j["injection"] = {{"net", c.injection->net},
                          {"volts", c.injection->volts},
                          {"limit_amps", c.injection->limit_amps}};
    if (!c.removed.empty())
        j["removed"] = c.removed;
    if (!c.replaced.empty())
        j["replaced"] = c.replaced;
    if (!c.lent.empty())
        j["lent"] = c.lent;
    if (c.second_instruments)
        j["second_instruments"] = true;
    return j;
}

json write_reading(const Reading& r) {
    json j{{"id", r.id}, {"kind", to_text(r.kind)}, {"configuration", write_configuration(r.configuration)}};
    put_if(j, "place", r.place);
    switch (r.kind) {
        case ReadingKind::meter:
            j["pattern"] = to_text(r.meter.pattern);
            j["volts"] = r.meter.volts;
            if (r.amps_known)
                j["amps"] = r.meter.amps;
            j["volts_spread"] = r.meter.volts_spread;
            j["amps_spread"] = r.meter.amps_spread;
            j["peak_amps"] = r.meter.peak_amps;
            j["period_s"] = r.meter.period_s;
            break;
        case ReadingKind::net_volts:
            j["value"] = r.value;
            j["unit"] = "V";
            break;
        case ReadingKind::net_ohms:
        case ReadingKind::through:
            put_value_or_ol(j, r, "ohm");
            if (r.pushed)
                j["changes_when_pushed"] = r.drops_out;
            break;
        case ReadingKind::diode:
            put_value_or_ol(j, r, "V");
            break;
        case ReadingKind::look:
            j["look"] = to_text(r.look);
            break;
        case ReadingKind::injection:
            j["volts"] = r.meter.volts;
            j["amps"] = r.meter.amps;
            [[fallthrough]];
        case ReadingKind::hot_part:
            if (r.rise_known) {
                j["value"] = r.value;
                j["unit"] = "K";
            }
            if (r.certainty < 1.0 || !r.rise_known)
                j["certainty"] = r.certainty;
            break;
        case ReadingKind::firmware:
            j["says"] = to_text(r.firmware);
            put_if(j, "percent", r.percent);
            break;
        case ReadingKind::talk:
            j["talk"] = to_text(r.talk);
            break;
        case ReadingKind::wiggle:
            j["drops_out"] = r.drops_out;
            break;
    }
    if (r.set_aside)
        j["set_aside"] = true;
    if (r.taken_ms != 0)
        j["taken_ms"] = r.taken_ms;
    put_if(j, "source", r.source);
    put_if(j, "note", r.note);
    return j;
}

BenchConfiguration read_configuration(const JsonReader& field) {
    BenchConfiguration c;
    c.charger_connected = field.boolean("charger_connected", true);
    c.charger = read_owner(field, "charger");
    c.lead = read_owner(field, "lead");
    c.port = field.text("port", "");
    const std::string side = field.text("side", "a");
    if (side != "a" && side != "b")
        field.at("side").refuse("the plug's side is a or b");
    c.side = side == "b" ? PlugSide::b : PlugSide::a;
    c.battery_in = field.boolean("battery_in", true);
    c.case_open = field.boolean("case_open", false);
    c.board_out = field.boolean("board_out", false);
    if (field.has("injection")) {
        const JsonReader supply = field.at("injection");
        c.injection = Injection{supply.text("net"), plausible(supply, "volts", Unit::volts),
                                plausible(supply, "limit_amps", Unit::amps)};
    }
    for (const std::string& block : field.texts("removed"))
        insert_block(c.removed, block);
    for (const std::string& block : field.texts("replaced"))
        insert_block(c.replaced, block);
    for (const std::string& block : field.texts("lent"))
        insert_block(c.lent, block);
    c.second_instruments = field.boolean("second_instruments", false);
    return c;
}

Reading read_reading(const JsonReader& field) {
    Reading r;
    r.id = field.text("id");
    r.kind = read_word(field.at("kind"), &reading_kind_from);
    r.configuration = read_configuration(field.at("configuration"));
    r.place = field.text("place", "");
    switch (r.kind) {
        case ReadingKind::meter:
            read_meter(field, r);
            break;
        case ReadingKind::net_volts:
            check_unit(field, "V");
            r.value = plausible(field, "value", Unit::volts);
            break;
        case ReadingKind::net_ohms:
            read_value_or_ol(field, r, Unit::ohms, "ohm");
            break;
        case ReadingKind::through:
            read_value_or_ol(field, r, Unit::ohms, "ohm");
            r.pushed = field.has("changes_when_pushed");
            r.drops_out = field.boolean("changes_when_pushed", false);
            break;
        case ReadingKind::diode:
            read_value_or_ol(field, r, Unit::volts, "V");
            break;
        case ReadingKind::look:
            r.look = read_word(field.at("look"), &look_from);
            break;
        case ReadingKind::injection:
            r.meter.volts = plausible(field, "volts", Unit::volts);
            r.meter.amps = plausible(field, "amps", Unit::amps);
            [[fallthrough]];
        case ReadingKind::hot_part:
            r.rise_known = field.has("value") || !field.has("certainty");
            if (r.rise_known) {
                check_unit(field, "K");
                r.value = plausible(field, "value", Unit::kelvin);
            }
            if (field.has("certainty"))
                r.certainty = field.number_between("certainty", 0.0, 1.0);
            break;
        case ReadingKind::firmware:
            r.firmware = read_word(field.at("says"), &firmware_message_from);
            if (field.has("percent"))
                r.percent = field.number_between("percent", 0.0, 100.0);
            break;
        case ReadingKind::talk:
            r.talk = read_word(field.at("talk"), &negotiation_end_from);
            break;
        case ReadingKind::wiggle:
            r.drops_out = field.at("drops_out").boolean();
            break;
    }
    // The hottest part has no place where nothing is warm.
    const bool placed = r.kind == ReadingKind::net_volts || is_unpowered(r.kind) ||
                        r.kind == ReadingKind::look ||
                        (r.kind == ReadingKind::hot_part && (r.value > 0.0 || !r.rise_known));
    if (placed && r.place.empty())
        field.refuse("this kind of reading names its place (a net or a part)");
    r.set_aside = field.boolean("set_aside", false);
    r.taken_ms = field.integer("taken_ms", 0);
    r.source = field.text("source", "");
    r.note = field.text("note", "");
    return r;
}

std::string configuration_to_text(const BenchConfiguration& configuration) {
    return json_text(write_configuration(configuration));
}

std::string reading_to_text(const Reading& reading) {
    return json_text(write_reading(reading));
}

Result<Reading> parse_reading(const std::string& text, const std::string& place) {
    return read_json<Reading>(text, place, read_reading);
}

}  // namespace eh
