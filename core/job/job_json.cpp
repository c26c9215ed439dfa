#include "core/job/job_json.h"

#include <nlohmann/json.hpp>
#include <set>

#include "core/base/json_reader.h"
#include "core/base/json_text.h"
#include "core/base/text.h"
#include "core/electrics/engineering.h"

namespace eh {

using nlohmann::json;

namespace {

constexpr int job_format_version = 1;
constexpr const char* job_format = "eager-hound.job";
constexpr std::size_t most_readings = 5000;  // a long job has a few hundred

// --- writing
// ------------------------------------------------------------------------------------------------

void put_if(json& target, const char* key, const std::string& text) {
    if (!text.empty())
        target[key] = text;
}

void put_if(json& target, const char* key, const std::optional<double>& number) {
    if (number)
        target[key] = *number;
}

const char* owner_name(Owner owner) {
    return owner == Owner::customer ? "customer" : "bench";
}

json write(const BenchConfiguration& c) {
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

void put_value_or_ol(json& target, const Reading& r, const char* unit) {
    target["unit"] = unit;
    if (r.over_limit)
        target["value"] = "OL";
    else
        target["value"] = r.value;
}

json write(const Reading& r) {
    json j{{"id", r.id}, {"kind", to_text(r.kind)}, {"configuration", write(r.configuration)}};
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

json write(const Ticket& t) {
    json j{{"topology", t.topology}, {"ask_before_data_loss", t.ask_before_data_loss}};
    put_if(j, "number", t.number);
    put_if(j, "customer", t.customer);
    put_if(j, "machine", t.machine);
    put_if(j, "claim", t.claim);
    put_if(j, "brought", t.brought);
    put_if(j, "return_of", t.return_of);
    put_if(j, "price_limit", t.price_limit);
    put_if(j, "estimate", t.estimate);
    if (!t.facts.empty())
        j["facts"] = t.facts;
    return j;
}

json write(const Act& a) {
    json j{{"id", a.id}, {"kind", a.kind}, {"minutes", a.minutes}, {"cost", a.cost}};
    put_if(j, "block", a.block);
    put_if(j, "part_origin", a.part_origin);
    put_if(j, "note", a.note);
    put_if(j, "solder", a.solder);
    put_if(j, "school", a.school);
    if (a.done_ms != 0)
        j["done_ms"] = a.done_ms;
    return j;
}

json write(const Finding& f) {
    return {{"id", f.id}, {"text", f.text}, {"noted_ms", f.noted_ms}};
}

json write(const ProofStep& p) {
    json j{{"id", p.id},
           {"kind", to_text(p.kind)},
           {"configuration", write(p.configuration)},
           {"state", to_text(p.state)}};
    put_if(j, "place", p.place);
    put_if(j, "reading", p.reading_id);
    put_if(j, "reason", p.reason);
    put_if(j, "check", p.check);
    put_if(j, "says", p.says);
    if (p.minutes != 0.0)
        j["minutes"] = p.minutes;
    if (p.started_ms != 0)
        j["started_ms"] = p.started_ms;
    return j;
}

json write(const Handover& h) {
    json j{{"warranty_months", h.warranty_months}};
    put_if(j, "found", h.found);
    put_if(j, "done", h.done);
    put_if(j, "advice", h.advice);
    put_if(j, "price", h.price);
    put_if(j, "unproven_reason", h.unproven_reason);
    if (h.handed_ms != 0)
        j["handed_ms"] = h.handed_ms;
    if (h.follow_up_ms != 0)
        j["follow_up_ms"] = h.follow_up_ms;
    put_if(j, "follow_up", h.follow_up);
    if (h.traces != SheetTraces{})
        j["traces"] = write_traces(h.traces);
    return j;
}

template <typename T>
json write_all(const std::vector<T>& items) {
    json list = json::array();
    for (const T& item : items)
        list.push_back(write(item));
    return list;
}

// --- reading
// ------------------------------------------------------------------------------------------------

std::optional<double> optional_number(const JsonReader& field, const std::string& key) {
    return field.has(key) ? std::optional(field.number(key)) : std::nullopt;
}

Owner read_owner(const JsonReader& field, const std::string& key) {
    const std::string owner = field.text(key, "bench");
    if (owner != "bench" && owner != "customer")
        field.at(key).refuse("“" + owner + "” is not known here; use bench or customer");
    return owner == "customer" ? Owner::customer : Owner::bench;
}

template <typename Enum>
Enum read_word(const JsonReader& field, std::optional<Enum> (*from)(const std::string&)) {
    const auto value = from(field.text());
    if (!value)
        field.refuse("“" + field.text() + "” is not known here");
    return *value;
}

double plausible(const JsonReader& field, const std::string& key, Unit unit) {
    const double value = field.number(key);
    if (auto check = check_plausible(value, unit, {}); !check)
        field.at(key).refuse(check.error().message);
    return value;
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

Ticket read_ticket(const JsonReader& field) {
    Ticket t;
    if (!field.text("topology").empty())
        t.topology = field.identifier<TopologyId>("topology");
    t.number = field.text("number", "");
    t.customer = field.text("customer", "");
    t.machine = field.text("machine", "");
    t.claim = field.text("claim", "");
    t.brought = field.text("brought", "");
    t.return_of = field.text("return_of", "");
    t.facts = field.texts("facts");
    t.price_limit = optional_number(field, "price_limit");
    t.estimate = optional_number(field, "estimate");
    t.ask_before_data_loss = field.boolean("ask_before_data_loss", true);
    return t;
}

Act read_act(const JsonReader& field) {
    Act a;
    a.id = field.text("id");
    a.kind = field.text("kind");
    a.block = field.text("block", "");
    a.part_origin = field.text("part_origin", "");
    a.minutes = field.number("minutes", 0.0);
    a.cost = field.number("cost", 0.0);
    a.note = field.text("note", "");
    a.done_ms = field.integer("done_ms", 0);
    a.solder = field.text("solder", "");
    a.school = field.text("school", "");
    return a;
}

ProofStep read_proof(const JsonReader& field) {
    ProofStep p;
    p.id = field.text("id");
    p.kind = read_word(field.at("kind"), &reading_kind_from);
    p.configuration = read_configuration(field.at("configuration"));
    p.place = field.text("place", "");
    p.state = read_word(field.at("state"), &proof_state_from);
    p.reading_id = field.text("reading", "");
    p.reason = field.text("reason", "");
    p.check = field.text("check", "");
    p.says = field.text("says", "");
    p.minutes = field.number("minutes", 0.0);
    p.started_ms = field.integer("started_ms", 0);
    return p;
}

Handover read_handover(const JsonReader& field) {
    Handover h;
    h.found = field.text("found", "");
    h.done = field.text("done", "");
    h.advice = field.text("advice", "");
    h.price = optional_number(field, "price");
    h.warranty_months =
        static_cast<int>(field.has("warranty_months") ? field.number_between("warranty_months", 0, 120) : 3);
    h.unproven_reason = field.text("unproven_reason", "");
    h.handed_ms = field.integer("handed_ms", 0);
    h.follow_up_ms = field.integer("follow_up_ms", 0);
    h.follow_up = field.text("follow_up", "");
    if (field.has("traces"))
        h.traces = read_traces(field.at("traces"));
    return h;
}

Job read_job(const JsonReader& root) {
    root.check_format(job_format, job_format_version);
    Job job;
    job.id = root.identifier<JobId>("id");
    job.stage = root.has("stage") ? read_word(root.at("stage"), &job_stage_from) : JobStage::intake;
    job.created_ms = root.integer("created_ms", 0);
    job.technician = root.text("technician", "");
    job.ticket = read_ticket(root.at("ticket"));
    if (root.has("bench"))
        job.bench = read_configuration(root.at("bench"));
    for (const JsonReader& item : root.items_or_none("findings"))
        job.findings.push_back({item.text("id"), item.text("text"), item.integer("noted_ms", 0)});
    std::set<std::string> reading_ids;
    for (const JsonReader& item : root.items_or_none("readings")) {
        job.readings.push_back(read_reading(item));
        if (!reading_ids.insert(job.readings.back().id).second)
            item.at("id").refuse("two readings have the id “" + job.readings.back().id + "”");
        if (job.readings.size() > most_readings)
            item.refuse("a job has no more than " + integer_text(most_readings) +
                        " readings; this file was put together by a program");
    }
    for (const JsonReader& item : root.items_or_none("acts"))
        job.acts.push_back(read_act(item));
    if (root.has("rework"))
        job.rework = read_rework(root.at("rework"));
    if (root.has("battery"))
        job.battery = read_battery(root.at("battery"));
    if (root.has("said"))
        job.said = read_said(root.at("said"));
    if (root.has("waiting"))
        job.waiting = read_waiting(root.at("waiting"));
    for (const JsonReader& item : root.items_or_none("proof"))
        job.proof.push_back(read_proof(item));
    if (root.has("handover"))
        job.handover = read_handover(root.at("handover"));
    return job;
}

}  // namespace

std::string job_to_text(const Job& job) {
    json j{{"format", std::string(job_format) + "/" + integer_text(job_format_version)},
           {"id", job.id.text()},
           {"stage", to_text(job.stage)},
           {"created_ms", job.created_ms},
           {"ticket", write(job.ticket)},
           {"bench", write(job.bench)},
           {"findings", write_all(job.findings)},
           {"readings", write_all(job.readings)},
           {"acts", write_all(job.acts)},
           {"proof", write_all(job.proof)},
           {"handover", write(job.handover)}};
    put_if(j, "technician", job.technician);
    if (job.rework != ReworkRecord{})
        j["rework"] = write_rework(job.rework);
    if (job.battery != BatteryLog{})
        j["battery"] = write_battery(job.battery);
    if (job.said != SaidBefore{})
        j["said"] = write_said(job.said);
    if (job.waiting != Waiting{})
        j["waiting"] = write_waiting(job.waiting);
    return json_text(j, 2) + "\n";
}

Result<Job> parse_job(const std::string& text, const std::string& file) {
    return read_json<Job>(text, file, read_job);
}

std::string configuration_to_text(const BenchConfiguration& configuration) {
    return json_text(write(configuration));
}

std::string reading_to_text(const Reading& reading) {
    return json_text(write(reading));
}

Result<Reading> parse_reading(const std::string& text, const std::string& place) {
    return read_json<Reading>(text, place, read_reading);
}

}  // namespace eh
