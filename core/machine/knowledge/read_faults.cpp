// SPDX-License-Identifier: GPL-3.0-or-later
// faults.json
#include <algorithm>
#include <set>

#include "core/base/json_fields.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/knowledge/read_common.h"
#include "core/machine/model/knowledge.h"

namespace eh {
namespace {

Spread read_spread(const JsonReader& field) {
    if (field.raw().is_number())
        return {field.number(), 1.0};
    Spread spread{field.number("median"), field.number("factor", 1.0)};
    if (spread.median <= 0.0 || spread.factor < 1.0)
        field.refuse("a spread needs a median above 0 and a factor of at least 1");
    return spread;
}

// Its ohms, and whether and from which volts on it grows.
void read_short(const JsonReader& field, Effect& effect) {
    effect.ohms = read_spread(field.at("ohms"));
    if (field.has("punch_through")) {
        const JsonReader punch = field.at("punch_through");
        effect.punch_through_share = punch.number_between("share", 0.0, 1.0);
        effect.knee_volts = read_spread(punch.at("knee_volts"));
    }
}

void read_reads(const JsonReader& field, Effect& effect) {
    static const std::set<std::string> shown{"volts", "amps", "lead_ohms", "nothing"};
    effect.name = field.text("name");
    if (shown.count(effect.name) == 0)
        field.at("name").refuse("an instrument shows volts, amps, lead_ohms or nothing");
    effect.value = field.number("factor");
}

EffectType read_effect_type(const JsonReader& field) {
    static const std::map<std::string, EffectType> types{{"shunt", EffectType::shunt},
                                                         {"series", EffectType::series},
                                                         {"open", EffectType::open},
                                                         {"dead", EffectType::dead},
                                                         {"param", EffectType::param},
                                                         {"contract_limit", EffectType::contract_limit},
                                                         {"holds_path_open", EffectType::holds_path_open},
                                                         {"offers_up_to", EffectType::offers_up_to},
                                                         {"carries_up_to", EffectType::carries_up_to},
                                                         {"gives_up_to", EffectType::gives_up_to},
                                                         {"never_talks", EffectType::never_talks},
                                                         {"play", EffectType::play},
                                                         {"asleep", EffectType::asleep},
                                                         {"says", EffectType::says},
                                                         {"reads", EffectType::reads}};
    return one_of(field.at("type"), types);
}

Effect read_effect(const JsonReader& field, const BlockKind& kind) {
    const auto check_pin = [&](const std::string& pin) {
        if (pin != "gnd" && std::find(kind.pins.begin(), kind.pins.end(), pin) == kind.pins.end())
            field.refuse("the kind “" + kind.id + "” has no pin “" + pin + "”");
    };
    Effect effect;
    effect.type = read_effect_type(field);
    switch (effect.type) {
        case EffectType::shunt:
            effect.pin = field.text("pin");
            effect.to = field.text("to", "gnd");
            check_pin(effect.pin);
            check_pin(effect.to);
            read_short(field, effect);
            break;
        case EffectType::series:
            effect.ohms = read_spread(field.at("ohms"));
            effect.in_return = field.boolean("in_return", false);
            [[fallthrough]];
        case EffectType::open: {
            effect.element = field.text("element");
            effect.at_rest = field.boolean("at_rest", false);
            const bool known = std::any_of(kind.elements.begin(), kind.elements.end(),
                                           [&](const ElementSpec& e) { return e.name == effect.element; });
            if (!known)
                field.refuse("the kind “" + kind.id + "” has no element “" + effect.element + "”");
            break;
        }
        case EffectType::dead:
            break;
        case EffectType::param:
            effect.name = field.text("name");
            if (kind.params.count(effect.name) == 0)
                field.refuse("the kind “" + kind.id + "” has no parameter “" + effect.name + "”");
            effect.value = field.number("value");
            break;
        case EffectType::holds_path_open:
            break;
        case EffectType::contract_limit:
            if (field.has("pin")) {
                effect.pin = field.text("pin");
                check_pin(effect.pin);
            }
            effect.value = field.number_between("volts", 0.0, 60.0);
            break;
        case EffectType::offers_up_to:
            effect.value = field.number_between("volts", 0.0, 60.0);
            break;
        case EffectType::carries_up_to:
            effect.value = field.number_between("amps", 0.0, 20.0);
            break;
        case EffectType::gives_up_to:
            effect.amps = read_spread(field.at("amps"));
            break;
        case EffectType::never_talks:
            break;
        case EffectType::play:
            effect.value = field.number_between("drop_probability", 0.0, 1.0);
            break;
        case EffectType::asleep:
            effect.value = field.number_between("probability", 0.0, 1.0);
            break;
        case EffectType::says:
            effect.name = field.text("firmware");
            break;
        case EffectType::reads:
            read_reads(field, effect);
            break;
    }
    return effect;
}

// What is left of 1 looks sound.
LookShares read_looks(const JsonReader& field) {
    LookShares looks{1.0, 0.0, 0.0, 0.0, 0.0};
    for (const auto& [name, value] : field.members()) {
        const auto look = look_from(name);
        if (!look || *look == Look::sound)
            value.refuse("“" + name + "” is not a look; use burnt, corroded, broken or dirty");
        const double share = value.number();
        looks[static_cast<std::size_t>(*look)] = share;
        looks[0] -= share;
        if (share < 0.0 || looks[0] < 0.0)
            field.refuse("shares of looks are at least 0 and at most 1 together");
    }
    return looks;
}

// Factors by the id of something that the catalogue lists as `what`.
std::map<std::string, double> read_factors(const JsonReader& field, const std::string& what,
                                           const std::set<std::string>& ids) {
    std::map<std::string, double> factors;
    for (const auto& [id, value] : field.members()) {
        if (ids.count(id) == 0)
            value.refuse("there is no " + what + " “" + id + "”");
        factors[id] = value.number();
    }
    return factors;
}

// What the faults of a catalogue may name.
struct Named {
    std::set<std::string> facts;
    std::set<std::string> origins;
};

FaultSpec read_fault(const JsonReader& field, const std::vector<BlockKind>& kinds, const Named& named) {
    FaultSpec fault;
    fault.id = field.text("id");
    fault.kind = field.text("kind");
    const auto kind =
        std::find_if(kinds.begin(), kinds.end(), [&](const BlockKind& k) { return k.id == fault.kind; });
    if (kind == kinds.end())
        field.at("kind").refuse("there is no kind “" + fault.kind + "”");
    fault.title = field.text("title");
    fault.rate = field.number_between("rate", 0.0, 1.0);
    fault.looks_like = field.text("looks_like", "");
    if (field.has("looks"))
        fault.looks = read_looks(field.at("looks"));
    if (field.has("contact")) {
        fault.contact = read_word(field.at("contact"), &contact_from);
        if (kind->contacts.count(*fault.contact) == 0)
            field.at("contact").refuse("parts of the kind “" + kind->id + "” have no such contact");
    }
    for (const JsonReader& item : field.items("effects"))
        fault.effects.push_back(read_effect(item, *kind));
    for (const JsonReader& item : field.items("remedies"))
        fault.remedies.push_back({read_word(item.at("act"), &work_from), item.number("minutes", 0.0),
                                  item.number("part_cost", 0.0),
                                  item.has("cures") ? item.number_between("cures", 0.0, 1.0) : 1.0});
    fault.refit = field.boolean("refit", false);
    fault.until_power_cut = field.boolean("until_power_cut", false);
    for (const JsonReader& item : field.items_or_none("causes")) {
        static const std::map<std::string, CauseReach> reaches{{"net", CauseReach::net},
                                                               {"port", CauseReach::port},
                                                               {"machine", CauseReach::machine},
                                                               {"behind", CauseReach::behind},
                                                               {"outside", CauseReach::outside}};
        fault.causes.push_back(
            {item.text("fault"), one_of(item.at("reach"), reaches), item.number_between("share", 0.0, 1.0)});
    }
    if (field.has("multipliers"))
        fault.multipliers = read_factors(field.at("multipliers"), "intake fact", named.facts);
    if (field.has("origins")) {
        if (!fault.refit)
            field.at("origins").refuse("only what work brings about hangs on where the part came from");
        fault.origin_factors = read_factors(field.at("origins"), "origin", named.origins);
    }
    return fault;
}

// Faults that others bring about must exist, and nothing may bring about itself.
void check_causes(const JsonReader& root, const FaultCatalogue& catalogue) {
    const auto fields = root.items("faults");
    const auto index_of = [&](const std::string& id) {
        return static_cast<std::size_t>(std::find_if(catalogue.faults.begin(), catalogue.faults.end(),
                                                     [&](const FaultSpec& f) { return f.id == id; }) -
                                        catalogue.faults.begin());
    };
    enum class Visit { not_yet, under_way, done };
    std::vector<Visit> visits(catalogue.faults.size(), Visit::not_yet);
    const auto visit = [&](auto&& self, std::size_t fault) -> void {
        visits[fault] = Visit::under_way;
        for (const Cause& cause : catalogue.faults[fault].causes) {
            const std::size_t next = index_of(cause.fault);
            if (next == catalogue.faults.size())
                fields[fault].at("causes").refuse("there is no fault “" + cause.fault + "”");
            if (visits[next] == Visit::under_way)
                fields[fault].at("causes").refuse(
                    "“" + cause.fault + "” would bring about itself; write the tie on one of the two");
            if (visits[next] == Visit::not_yet)
                self(self, next);
        }
        visits[fault] = Visit::done;
    };
    for (std::size_t f = 0; f < visits.size(); ++f) {
        if (visits[f] == Visit::not_yet)
            visit(visit, f);
    }
}

}  // namespace

Result<FaultCatalogue> parse_faults(const std::string& text, const std::string& file,
                                    const std::vector<BlockKind>& kinds) {
    return read_json<FaultCatalogue>(text, file, [&](const JsonReader& root) {
        root.check_format("eager-hound.faults", 1);
        FaultCatalogue catalogue;
        Named named;
        constexpr double most_common_fact = 0.9;  // what nearly every job states tells nothing
        for (const JsonReader& item : root.items("facts")) {
            catalogue.facts.push_back(
                {item.text("id"), item.text("title"), item.text("question"),
                 item.has("share") ? item.number_between("share", 0.0, most_common_fact) : 0.0,
                 item.has("second_fault") ? item.number_between("second_fault", 0.0, 1.0) : 0.0,
                 item.boolean("local", false), item.boolean("look_first", false)});
            named.facts.insert(catalogue.facts.back().id);
        }
        for (const JsonReader& item : root.items_or_none("origins")) {
            catalogue.origins.push_back({item.text("id"), item.text("title")});
            if (!named.origins.insert(catalogue.origins.back().id).second)
                item.at("id").refuse("this origin stands twice");
        }
        catalogue.nothing_wrong_rate = root.number_between("nothing_wrong_rate", 0.0, 1.0);
        catalogue.none_of_these_share = root.number_between("none_of_these_share", 0.0, 1.0);
        if (root.has("untied_share"))
            catalogue.untied_share = root.number_between("untied_share", 0.0, 1.0);
        if (root.has("worked_on_factor"))
            catalogue.worked_on_factor = root.number_between("worked_on_factor", 1.0, 100.0);
        if (root.has("looks_of_sound"))
            catalogue.looks_of_sound = read_looks(root.at("looks_of_sound"));
        for (const JsonReader& item : root.items("faults"))
            catalogue.faults.push_back(read_fault(item, kinds, named));
        check_causes(root, catalogue);
        return catalogue;
    });
}

}  // namespace eh
