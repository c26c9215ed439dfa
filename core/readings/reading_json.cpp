// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/readings/reading_json.h"

#include <algorithm>
#include <array>

#include "core/base/json_fields.h"
#include "core/base/json_text.h"
#include "core/readings/kind_list.h"
#include "core/readings/kind_parts.h"

namespace eh {

using nlohmann::json;

namespace {

const char* owner_name(Owner owner) {
    return owner == Owner::customer ? "customer" : "bench";
}

Owner read_owner(const JsonReader& field, const std::string& key) {
    const std::string owner = field.text(key, "bench");
    if (owner != "bench" && owner != "customer")
        field.at(key).refuse("“" + owner + "” is not known here; use bench or customer");
    return owner == "customer" ? Owner::customer : Owner::bench;
}

// In the order of their enumerations.
constexpr std::array<const char*, 3> tester_names{"none", "no_load", "loaded"};
constexpr std::array<const char*, 3> button_names{"left_alone", "pressed", "kept_off"};
constexpr std::array<const char*, 2> moment_names{"settled", "at_once"};

// The first name where the field is not there.
template <typename Word, std::size_t count>
Word read_one_of(const JsonReader& field, const std::string& key,
                 const std::array<const char*, count>& names) {
    const std::string said = field.text(key, names[0]);
    const auto found = std::find(names.begin(), names.end(), said);
    if (found == names.end()) {
        std::string list = names[0];
        for (std::size_t i = 1; i < count; ++i)
            list += (i + 1 == count ? " or " : ", ") + std::string(names[i]);
        field.at(key).refuse("“" + said + "” is not known here; use " + list);
    }
    return static_cast<Word>(found - names.begin());
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
    for (const Handling& done : c.handled)
        j["handled"].push_back({{"part", done.block}, {"work", to_text(done.work)}});
    if (c.power_was_cut)
        j["power_was_cut"] = true;
    if (!c.lent.empty())
        j["lent"] = c.lent;
    if (c.second_instruments)
        j["second_instruments"] = true;
    if (c.plug_held)
        j["plug_held"] = true;
    if (c.bare_plug)
        j["bare_plug"] = true;
    if (c.tester != Tester::none)
        j["tester"] = tester_names[static_cast<std::size_t>(c.tester)];
    if (c.button != Button::left_alone)
        j["button"] = button_names[static_cast<std::size_t>(c.button)];
    if (c.moment != Moment::settled)
        j["moment"] = moment_names[static_cast<std::size_t>(c.moment)];
    return j;
}

json write_reading(const Reading& r) {
    json j{
        {"id", r.id}, {"kind", to_text(r.kind())}, {"configuration", write_configuration(r.configuration)}};
    put_if(j, "place", r.place());
    std::visit([&]<typename Value>(const Value& value) { Traits<Value>::write(value, j); }, r.value);
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
        c.injection = Injection{supply.text("net"), kinds::plausible_number(supply, "volts", Unit::volts),
                                kinds::plausible_number(supply, "limit_amps", Unit::amps)};
    }
    for (const std::string& block : field.texts("removed"))
        insert_block(c.removed, block);
    for (const std::string& block : field.texts("replaced"))
        insert_block(c.replaced, block);
    for (const JsonReader& done : field.has("handled") ? field.items("handled") : std::vector<JsonReader>{}) {
        const auto work = work_from(done.text("work"));
        if (!work || !has_one_remedy(*work))
            done.at("work").refuse("“" + done.text("work") +
                                   "” is not such work; use clean, reseat, resolder, bridge, reset, wait or "
                                   "change_setting");
        note_work(c, done.text("part"), *work);
    }
    for (const std::string& block : field.texts("lent"))
        insert_block(c.lent, block);
    c.second_instruments = field.boolean("second_instruments", false);
    c.power_was_cut = field.boolean("power_was_cut", false);
    c.plug_held = field.boolean("plug_held", false);
    c.bare_plug = field.boolean("bare_plug", false);
    c.tester = read_one_of<Tester>(field, "tester", tester_names);
    c.button = read_one_of<Button>(field, "button", button_names);
    c.moment = read_one_of<Moment>(field, "moment", moment_names);
    return c;
}

Reading read_reading(const JsonReader& field) {
    Reading r;
    r.id = field.text("id");
    r.configuration = read_configuration(field.at("configuration"));
    r.value = ask_kind<ReadingValue>(read_word(field.at("kind"), &reading_kind_from),
                                     [&]<typename Value>(std::type_identity<Value>) -> ReadingValue {
                                         return Traits<Value>::read(field);
                                     });
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
