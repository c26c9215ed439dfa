// SPDX-License-Identifier: GPL-3.0-or-later
// kinds.json
#include <algorithm>
#include <set>

#include "core/base/json_fields.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/knowledge/read_common.h"
#include "core/machine/model/knowledge.h"

namespace eh {

ValueSpec read_value(const JsonReader& field) {
    if (!field.raw().is_string())
        return {field.number(), {}};
    const std::string text = field.text();
    if (text.size() < 2 || text.front() != '$')
        field.refuse("a number or the name of a parameter such as \"$volts\" is wanted here");
    return {0.0, text.substr(1)};
}

Need read_need(const JsonReader& field) {
    Need need;
    need.pin = field.text("pin", field.text("net", ""));
    need.link = field.text("link", "");
    need.unstopped = field.text("unstopped", "");
    need.contract = field.boolean("contract", false);
    need.plugged = field.text("plugged", "");
    if (field.has("above_volts"))
        need.above_volts = read_value(field.at("above_volts"));
    if (field.has("below_volts"))
        need.below_volts = read_value(field.at("below_volts"));
    const std::string purpose = field.text("for", "power");
    if (purpose == "program")
        need.purpose = NeedPurpose::program;
    else if (purpose == "partners")
        need.purpose = NeedPurpose::partners;
    else if (purpose != "power")
        field.refuse("a need is for power, program or partners, not for “" + purpose + "”");
    need.undamaged = field.text("undamaged", "");
    if (field.has("habit"))
        need.habit = read_word(field.at("habit"), &habit_from);
    for (const JsonReader& item : field.items_or_none("eased_by"))
        need.eased_by.push_back(read_word(item, &habit_from));
    if (!need.eased_by.empty())
        need.eased_to_volts = field.number("eased_to_volts");
    need.eased_without_pack = field.boolean("eased_without_pack", false);
    if (need.pin.empty() && need.link.empty() && need.unstopped.empty() && !need.contract &&
        need.undamaged.empty())
        field.refuse("a need names a pin, a net, a link, a contract or a kind that must be undamaged");
    return need;
}

namespace {

ElementSpec read_element(const JsonReader& field, const BlockKind& kind) {
    static const std::map<std::string, ElementType> types{{"resistor", ElementType::resistor},
                                                          {"diode", ElementType::diode},
                                                          {"limited_source", ElementType::limited_source},
                                                          {"power_load", ElementType::power_load},
                                                          {"regulator", ElementType::regulator},
                                                          {"current", ElementType::current}};
    static const std::map<std::string, ElementCondition> conditions{
        {"always", ElementCondition::always},      {"live", ElementCondition::live},
        {"active", ElementCondition::active},      {"waiting", ElementCondition::waiting},
        {"limited", ElementCondition::limited},    {"unlimited", ElementCondition::unlimited},
        {"plugged", ElementCondition::plugged},    {"plugged_a", ElementCondition::plugged_a},
        {"plugged_b", ElementCondition::plugged_b}};
    static const std::set<std::string> words{"name",
                                             "type",
                                             "from",
                                             "to",
                                             "when",
                                             "tolerance",
                                             "faint_by",
                                             "only_by",
                                             "never_by",
                                             "folds_by",
                                             "stops_when_shorted"};
    ElementSpec element;
    element.name = field.text("name");
    element.type = one_of(field.at("type"), types);
    element.from = field.text("from", "gnd");
    element.to = field.text("to");
    for (const std::string& pin : {element.from, element.to}) {
        if (pin != "gnd" && std::find(kind.pins.begin(), kind.pins.end(), pin) == kind.pins.end())
            field.refuse("the pin “" + pin + "” is not among the pins of this kind");
    }
    element.tolerance = field.number("tolerance", 0.0);
    if (field.has("when"))
        element.when = one_of(field.at("when"), conditions);
    if (field.has("faint_by"))
        element.faint_by = read_word(field.at("faint_by"), &habit_from);
    if (field.has("only_by"))
        element.only_by = read_word(field.at("only_by"), &habit_from);
    if (field.has("never_by"))
        element.never_by = read_word(field.at("never_by"), &habit_from);
    if (field.has("folds_by"))
        element.folds_by = read_word(field.at("folds_by"), &habit_from);
    element.stops_when_shorted = field.boolean("stops_when_shorted", false);
    if (element.stops_when_shorted && element.type != ElementType::regulator)
        field.at("stops_when_shorted").refuse("only a regulator stops");
    for (const auto& [key, value] : field.members()) {
        if (words.count(key) != 0)
            continue;
        ValueSpec spec = read_value(value);
        if (!spec.param.empty() && kind.params.count(spec.param) == 0)
            value.refuse("the parameter “" + spec.param + "” is not among the params of this kind");
        element.values[key] = std::move(spec);
    }
    return element;
}

// What the course of events (core/machine/simulation/course.cpp) sets and asks for by name.
const std::map<BlockRole, std::vector<std::string>>& params_of_roles() {
    static const std::map<BlockRole, std::vector<std::string>> params{
        {BlockRole::mainboard,
         {"load_watts", "stuck_watts", "standby_watts", "boot_watts", "run_watts", "core_volts",
          "core_on_volts", "switched_volts", "switched_on_volts"}},
        {BlockRole::charger, {"volts", "least_share"}},
        {BlockRole::pack,
         {"volts", "open_circuit_volts", "charging_watts", "charge_watts", "empty", "deep", "percent",
          "percent_width", "health", "health_width"}}};
    return params;
}

void check_params_of_role(const BlockKind& kind, const JsonReader& field) {
    const auto wanted = params_of_roles().find(kind.role);
    if (wanted == params_of_roles().end())
        return;
    for (const std::string& param : wanted->second) {
        if (kind.params.count(param) == 0)
            field.refuse("a kind of this role needs the parameter “" + param + "” under “params”");
    }
}

// Contacts by the pin that each stands on.
std::map<Contact, std::string> read_contacts(const JsonReader& field, const BlockKind& kind) {
    std::map<Contact, std::string> contacts;
    for (const auto& [name, value] : field.members()) {
        const auto contact = contact_from(name);
        if (!contact)
            value.refuse("“" + name + "” is no contact; use power, cc1, cc2, id, sense, signal or ground");
        const std::string pin = value.text();
        if (!pin.empty() && std::find(kind.pins.begin(), kind.pins.end(), pin) == kind.pins.end())
            value.refuse("the pin “" + pin + "” is not among the pins of this kind");
        contacts[*contact] = pin;
    }
    return contacts;
}

BlockKind read_kind(const JsonReader& field) {
    static const std::map<std::string, BlockRole> roles{{"plain", BlockRole::plain},
                                                        {"source_pd", BlockRole::source_pd},
                                                        {"source_fixed", BlockRole::source_fixed},
                                                        {"controller", BlockRole::controller},
                                                        {"charger", BlockRole::charger},
                                                        {"mainboard", BlockRole::mainboard},
                                                        {"pack", BlockRole::pack},
                                                        {"inline_meter", BlockRole::inline_meter},
                                                        {"multimeter", BlockRole::multimeter}};
    BlockKind kind;
    kind.id = field.text("id");
    kind.title = field.text("title");
    if (field.has("role"))
        kind.role = one_of(field.at("role"), roles);
    kind.pins = field.texts("pins");
    kind.optional_pins = field.texts("optional_pins");
    for (const std::string& pin : kind.optional_pins) {
        if (std::find(kind.pins.begin(), kind.pins.end(), pin) == kind.pins.end())
            field.at("optional_pins").refuse("the pin “" + pin + "” is not among the pins of this kind");
    }
    if (field.has("params")) {
        for (const auto& [name, value] : field.at("params").members())
            kind.params[name] = value.number();
    }
    if (field.has("param_tolerance")) {
        for (const auto& [name, value] : field.at("param_tolerance").members())
            kind.param_tolerance[name] = value.number();
    }
    check_params_of_role(kind, field);
    for (const JsonReader& item : field.items("elements"))
        kind.elements.push_back(read_element(item, kind));
    for (const JsonReader& item : field.items_or_none("needs"))
        kind.needs.push_back(read_need(item));
    if (field.has("contacts"))
        kind.contacts = read_contacts(field.at("contacts"), kind);
    kind.delay_s = field.number("delay_s", 0.0);
    if (field.has("opens_at_short")) {
        const JsonReader trip = field.at("opens_at_short");
        kind.opens_at_short = Trip{trip.text("pin"), trip.number_between("below_volts", 0.0, 20.0),
                                   read_word(trip.at("habit"), &habit_from)};
        if (std::find(kind.pins.begin(), kind.pins.end(), kind.opens_at_short->pin) == kind.pins.end())
            trip.at("pin").refuse("the pin “" + kind.opens_at_short->pin +
                                  "” is not among the pins of this kind");
    }
    kind.heat_kelvin_per_watt = field.number("heat_kelvin_per_watt");
    if (field.has("conversion_heat_share"))
        kind.conversion_heat_share = field.number_between("conversion_heat_share", 0.0, 1.0);
    kind.replace_minutes = field.number("replace_minutes");
    kind.needs_board_out = field.boolean("needs_board_out", true);
    if (field.has("remove_minutes"))
        kind.remove_minutes = field.number("remove_minutes");
    if (field.has("lend_minutes"))
        kind.lend_minutes = field.number("lend_minutes");
    kind.pinned_out = field.boolean("pinned_out", false);
    kind.designators = field.texts("designators");
    kind.seen_from_outside = field.boolean("seen_from_outside", false);
    if (field.has("clamp_volts")) {
        for (const auto& [pin, volts] : field.at("clamp_volts").members()) {
            if (std::find(kind.pins.begin(), kind.pins.end(), pin) == kind.pins.end())
                volts.refuse("the pin “" + pin + "” is not among the pins of this kind");
            kind.clamp_volts[pin] = volts.number();
        }
    }
    return kind;
}

}  // namespace

Result<std::vector<BlockKind>> parse_kinds(const std::string& text, const std::string& file) {
    return read_json<std::vector<BlockKind>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.kinds", 1);
        std::vector<BlockKind> kinds;
        for (const JsonReader& item : root.items("kinds"))
            kinds.push_back(read_kind(item));
        return kinds;
    });
}

}  // namespace eh
