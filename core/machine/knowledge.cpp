#include "core/machine/knowledge.h"

#include <algorithm>
#include <cstdlib>
#include <set>

#include "core/base/files.h"
#include "core/base/json_reader.h"

namespace eh {

using nlohmann::json;

namespace {

// Nets that exist outside every machine.
const std::set<std::string> outside_nets{"gnd", "nc", "plug", "plug_cc", "plug_id"};

template <typename Enum>
Enum one_of(const JsonReader& field, const std::map<std::string, Enum>& names) {
    const std::string text = field.text();
    const auto found = names.find(text);
    if (found != names.end())
        return found->second;
    std::string list;
    for (const auto& [name, value] : names)
        list += (list.empty() ? "" : ", ") + name;
    field.refuse("“" + text + "” is not known here; use one of: " + list);
}

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
    need.contract = field.boolean("contract", false);
    if (field.has("above_volts"))
        need.above_volts = read_value(field.at("above_volts"));
    if (field.has("below_volts"))
        need.below_volts = read_value(field.at("below_volts"));
    if (need.pin.empty() && need.link.empty() && !need.contract)
        field.refuse("a need names a pin, a net, a link or a contract");
    return need;
}

ElementSpec read_element(const JsonReader& field, const BlockKind& kind) {
    static const std::map<std::string, ElementType> types{{"resistor", ElementType::resistor},
                                                          {"diode", ElementType::diode},
                                                          {"limited_source", ElementType::limited_source},
                                                          {"power_load", ElementType::power_load},
                                                          {"regulator", ElementType::regulator}};
    static const std::map<std::string, ElementCondition> conditions{
        {"always", ElementCondition::always},      {"live", ElementCondition::live},
        {"active", ElementCondition::active},      {"waiting", ElementCondition::waiting},
        {"plugged", ElementCondition::plugged},    {"plugged_a", ElementCondition::plugged_a},
        {"plugged_b", ElementCondition::plugged_b}};
    static const std::set<std::string> words{"name", "type", "from", "to", "when", "tolerance"};
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

BlockKind read_kind(const JsonReader& field) {
    static const std::map<std::string, BlockRole> roles{{"plain", BlockRole::plain},
                                                        {"source_pd", BlockRole::source_pd},
                                                        {"source_fixed", BlockRole::source_fixed},
                                                        {"controller", BlockRole::controller},
                                                        {"mainboard", BlockRole::mainboard},
                                                        {"pack", BlockRole::pack}};
    BlockKind kind;
    kind.id = field.text("id");
    kind.title = field.text("title");
    if (field.has("role"))
        kind.role = one_of(field.at("role"), roles);
    kind.pins = field.texts("pins");
    if (field.has("params")) {
        for (const auto& [name, value] : field.at("params").members())
            kind.params[name] = value.number();
    }
    if (field.has("param_tolerance")) {
        for (const auto& [name, value] : field.at("param_tolerance").members())
            kind.param_tolerance[name] = value.number();
    }
    for (const JsonReader& item : field.items("elements"))
        kind.elements.push_back(read_element(item, kind));
    for (const JsonReader& item : field.items_or_none("needs"))
        kind.needs.push_back(read_need(item));
    kind.delay_s = field.number("delay_s", 0.0);
    kind.heat_kelvin_per_watt = field.number("heat_kelvin_per_watt");
    kind.replace_minutes = field.number("replace_minutes");
    kind.needs_board_out = field.boolean("needs_board_out", true);
    if (field.has("remove_minutes"))
        kind.remove_minutes = field.number("remove_minutes");
    return kind;
}

Spread read_spread(const JsonReader& field) {
    if (field.raw().is_number())
        return {field.number(), 1.0};
    Spread spread{field.number("median"), field.number("factor", 1.0)};
    if (spread.median <= 0.0 || spread.factor < 1.0)
        field.refuse("a spread needs a median above 0 and a factor of at least 1");
    return spread;
}

Effect read_effect(const JsonReader& field, const BlockKind& kind) {
    static const std::map<std::string, EffectType> types{{"shunt", EffectType::shunt},
                                                         {"series", EffectType::series},
                                                         {"open", EffectType::open},
                                                         {"dead", EffectType::dead},
                                                         {"param", EffectType::param},
                                                         {"contract_limit", EffectType::contract_limit},
                                                         {"offers_up_to", EffectType::offers_up_to},
                                                         {"play", EffectType::play},
                                                         {"says", EffectType::says}};
    const auto check_pin = [&](const std::string& pin) {
        if (pin != "gnd" && std::find(kind.pins.begin(), kind.pins.end(), pin) == kind.pins.end())
            field.refuse("the kind “" + kind.id + "” has no pin “" + pin + "”");
    };
    Effect effect;
    effect.type = one_of(field.at("type"), types);
    switch (effect.type) {
        case EffectType::shunt:
            effect.pin = field.text("pin");
            effect.to = field.text("to", "gnd");
            check_pin(effect.pin);
            check_pin(effect.to);
            effect.ohms = read_spread(field.at("ohms"));
            if (field.has("punch_through")) {
                const JsonReader punch = field.at("punch_through");
                effect.punch_through_share = punch.number_between("share", 0.0, 1.0);
                effect.knee_volts = read_spread(punch.at("knee_volts"));
            }
            break;
        case EffectType::series:
            effect.ohms = read_spread(field.at("ohms"));
            [[fallthrough]];
        case EffectType::open: {
            effect.element = field.text("element");
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
        case EffectType::contract_limit:
        case EffectType::offers_up_to:
            effect.value = field.number_between("volts", 0.0, 60.0);
            break;
        case EffectType::play:
            effect.value = field.number_between("drop_probability", 0.0, 1.0);
            break;
        case EffectType::says:
            effect.name = field.text("firmware");
            break;
    }
    return effect;
}

FaultSpec read_fault(const JsonReader& field, const std::vector<BlockKind>& kinds,
                     const std::set<std::string>& facts) {
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
    for (const JsonReader& item : field.items("effects"))
        fault.effects.push_back(read_effect(item, *kind));
    for (const JsonReader& item : field.items("remedies"))
        fault.remedies.push_back(
            {item.text("act"), item.number("minutes", 0.0), item.number("part_cost", 0.0)});
    if (field.has("multipliers")) {
        for (const auto& [fact, value] : field.at("multipliers").members()) {
            if (facts.count(fact) == 0)
                value.refuse("there is no intake fact “" + fact + "”");
            fault.multipliers[fact] = value.number();
        }
    }
    return fault;
}

Block read_block(const JsonReader& field, const Topology& topology, const std::vector<BlockKind>& kinds) {
    Block block;
    block.id = field.text("id");
    block.kind = field.text("kind");
    block.title = field.text("title");
    block.port = field.text("port", "");
    const auto kind =
        std::find_if(kinds.begin(), kinds.end(), [&](const BlockKind& k) { return k.id == block.kind; });
    if (kind == kinds.end())
        field.at("kind").refuse("there is no kind “" + block.kind + "”");
    if (!block.port.empty() && topology.find_port(block.port) == nullptr)
        field.at("port").refuse("there is no port “" + block.port + "”");
    for (const auto& [pin, net] : field.at("pins").members()) {
        if (std::find(kind->pins.begin(), kind->pins.end(), pin) == kind->pins.end())
            net.refuse("the kind “" + kind->id + "” has no such pin");
        const std::string name = net.text();
        if (outside_nets.count(name) == 0 && topology.find_net(name) == nullptr)
            net.refuse("there is no net “" + name + "”");
        block.pins[pin] = name;
    }
    for (const std::string& pin : kind->pins) {
        if (block.pins.count(pin) == 0)
            field.refuse("the pin “" + pin + "” has no net; write \"nc\" when it stays open");
    }
    if (field.has("links")) {
        for (const auto& [name, list] : field.at("links").members()) {
            for (const auto& item : list.raw())
                block.links[name].push_back(JsonReader(item, list.path()).text());
        }
    }
    if (field.has("params")) {
        for (const auto& [name, value] : field.at("params").members()) {
            if (kind->params.count(name) == 0)
                value.refuse("the kind “" + kind->id + "” has no such parameter");
            block.params[name] = value.number();
        }
    }
    for (const JsonReader& item : field.items_or_none("charge_needs"))
        block.charge_needs.push_back(read_need(item));
    return block;
}

void check_links(const Topology& topology, const std::string& file) {
    for (const Block& block : topology.blocks) {
        for (const auto& [name, targets] : block.links) {
            for (const std::string& target : targets) {
                if (topology.find_block(target) == nullptr)
                    throw JsonRefused{refused("there is no block “" + target + "”",
                                              file + ": block " + block.id + ": links: " + name)};
            }
        }
    }
}

template <typename T>
const T* find_by_id(const std::vector<T>& list, const std::string& id) {
    const auto found = std::find_if(list.begin(), list.end(), [&](const T& item) { return item.id == id; });
    return found == list.end() ? nullptr : &*found;
}

}  // namespace

const Port* Topology::find_port(const std::string& port_id) const {
    return find_by_id(ports, port_id);
}
const Net* Topology::find_net(const std::string& net_id) const {
    return find_by_id(nets, net_id);
}
const Block* Topology::find_block(const std::string& block_id) const {
    return find_by_id(blocks, block_id);
}
const FaultSpec* FaultCatalogue::find(const std::string& id) const {
    return find_by_id(faults, id);
}
const BlockKind* Knowledge::find_kind(const std::string& id) const {
    return find_by_id(kinds, id);
}
const Topology* Knowledge::find_topology(const std::string& id) const {
    return find_by_id(topologies, id);
}
const ChargerSpec* Kit::find_charger(const std::string& id) const {
    return find_by_id(chargers, id);
}

const LeadSpec* Kit::lead_for(const std::string& family) const {
    const auto found =
        std::find_if(leads.begin(), leads.end(), [&](const LeadSpec& lead) { return lead.family == family; });
    return found == leads.end() ? nullptr : &*found;
}

std::string to_text(Protection protection) {
    switch (protection) {
        case Protection::foldback:
            return "foldback";
        case Protection::hiccup:
            return "hiccup";
        case Protection::latched:
            return "latched";
    }
    return {};
}

Result<std::vector<BlockKind>> parse_kinds(const std::string& text, const std::string& file) {
    return read_json<std::vector<BlockKind>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.kinds", 1);
        std::vector<BlockKind> kinds;
        for (const JsonReader& item : root.items("kinds"))
            kinds.push_back(read_kind(item));
        return kinds;
    });
}

Result<Kit> parse_kit(const std::string& text, const std::string& file) {
    return read_json<Kit>(text, file, [](const JsonReader& root) {
        static const std::map<std::string, Protection> protections{{"foldback", Protection::foldback},
                                                                   {"hiccup", Protection::hiccup},
                                                                   {"latched", Protection::latched}};
        root.check_format("eager-hound.kit", 1);
        Kit kit;
        for (const JsonReader& item : root.items("chargers")) {
            ChargerSpec charger{
                item.text("id"), item.text("family"), item.text("title"), item.text("kind"), {}};
            for (const JsonReader& offer : item.items("offers"))
                charger.offers.push_back(
                    {offer.number_between("volts", 0.0, 60.0), offer.number_between("amps", 0.0, 20.0)});
            if (charger.offers.empty())
                item.refuse("a charger offers at least one voltage");
            charger.protection = one_of(item.at("protection"), protections);
            charger.trip_s = item.number_between("trip_s", 0.001, 10.0);
            charger.recover_s = item.number_between("recover_s", 0.01, 60.0);
            kit.chargers.push_back(std::move(charger));
        }
        for (const JsonReader& item : root.items("leads"))
            kit.leads.push_back(
                {item.text("id"), item.text("family"), item.text("title"), item.text("kind")});
        return kit;
    });
}

Result<FaultCatalogue> parse_faults(const std::string& text, const std::string& file,
                                    const std::vector<BlockKind>& kinds) {
    return read_json<FaultCatalogue>(text, file, [&](const JsonReader& root) {
        root.check_format("eager-hound.faults", 1);
        FaultCatalogue catalogue;
        std::set<std::string> facts;
        for (const JsonReader& item : root.items("facts")) {
            catalogue.facts.push_back({item.text("id"), item.text("title")});
            facts.insert(catalogue.facts.back().id);
        }
        catalogue.nothing_wrong_rate = root.number_between("nothing_wrong_rate", 0.0, 1.0);
        catalogue.none_of_these_share = root.number_between("none_of_these_share", 0.0, 1.0);
        for (const JsonReader& item : root.items("faults"))
            catalogue.faults.push_back(read_fault(item, kinds, facts));
        return catalogue;
    });
}

Result<Topology> parse_topology(const std::string& text, const std::string& file,
                                const std::vector<BlockKind>& kinds, const Kit& kit) {
    return read_json<Topology>(text, file, [&](const JsonReader& root) {
        root.check_format("eager-hound.topology", 1);
        Topology topology;
        topology.id = root.text("id");
        topology.title = root.text("title");
        topology.about = root.text("about", "");
        topology.wanted_volts = root.number_between("wanted_volts", 1.0, 60.0);
        topology.system_rail = root.text("system_rail");
        for (const JsonReader& item : root.items("ports")) {
            Port port{item.text("id"),        item.text("title"),   item.text("family"),
                      item.text("place", ""), item.text("charger"), item.text("vbus")};
            if (kit.find_charger(port.charger) == nullptr)
                item.at("charger").refuse("the kit has no charger “" + port.charger + "”");
            if (kit.lead_for(port.family) == nullptr)
                item.at("family").refuse("the kit has no lead for “" + port.family + "”");
            topology.ports.push_back(std::move(port));
        }
        if (topology.ports.empty())
            root.at("ports").refuse("a machine has at least one port");
        for (const JsonReader& item : root.items("nets")) {
            Net net{item.text("id"),       item.text("title"),        item.texts("names"),
                    item.text("port", ""), item.number("volts", 0.0), item.text("stage", "")};
            if (topology.find_net(net.id) != nullptr)
                item.refuse("the net “" + net.id + "” is listed twice");
            topology.nets.push_back(std::move(net));
        }
        if (topology.find_net(topology.system_rail) == nullptr)
            root.at("system_rail").refuse("there is no net “" + topology.system_rail + "”");
        for (const Port& port : topology.ports) {
            if (topology.find_net(port.vbus) == nullptr)
                root.at("ports").refuse("the port “" + port.id + "” names no known net as its vbus");
        }
        for (const JsonReader& item : root.items("blocks")) {
            Block block = read_block(item, topology, kinds);
            if (topology.find_block(block.id) != nullptr)
                item.refuse("the block “" + block.id + "” is listed twice");
            topology.blocks.push_back(std::move(block));
        }
        check_links(topology, file);
        return topology;
    });
}

Result<Knowledge> load_knowledge(const std::filesystem::path& directory) {
    Knowledge knowledge;
    const auto text_of = [&](const char* name) { return read_text_file(directory / name); };
    const auto kinds_text = text_of("kinds.json");
    if (!kinds_text)
        return kinds_text.error();
    auto kinds = parse_kinds(*kinds_text, "kinds.json");
    if (!kinds)
        return kinds.error();
    knowledge.kinds = *kinds;
    const auto kit_text = text_of("kit.json");
    if (!kit_text)
        return kit_text.error();
    auto kit = parse_kit(*kit_text, "kit.json");
    if (!kit)
        return kit.error();
    knowledge.kit = *kit;
    const auto faults_text = text_of("faults.json");
    if (!faults_text)
        return faults_text.error();
    auto faults = parse_faults(*faults_text, "faults.json", knowledge.kinds);
    if (!faults)
        return faults.error();
    knowledge.catalogue = *faults;

    std::vector<std::filesystem::path> files;
    std::error_code problem;
    for (const auto& entry : std::filesystem::directory_iterator(directory / "topologies", problem)) {
        if (entry.path().extension() == ".json")
            files.push_back(entry.path());
    }
    std::sort(files.begin(), files.end());
    for (const auto& path : files) {
        const std::string name = path.filename().string();
        const auto text = read_text_file(path);
        auto topology = text ? parse_topology(*text, name, knowledge.kinds, knowledge.kit)
                             : Result<Topology>(text.error());
        if (topology)
            knowledge.topologies.push_back(*topology);
        else
            knowledge.refused_files.push_back(topology.error());
    }
    if (knowledge.topologies.empty())
        return Error{ErrorKind::not_found, "no usable topology was found; the installation is incomplete",
                     (directory / "topologies").string()};
    return knowledge;
}

std::filesystem::path default_data_directory() {
    if (const char* chosen = std::getenv("EAGER_HOUND_DATA"); chosen != nullptr && *chosen != '\0')
        return chosen;
    std::error_code problem;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", problem);
    if (!problem) {
        auto installed = program.parent_path().parent_path() / "share" / "eager-hound" / "data";
        if (std::filesystem::exists(installed / "kinds.json", problem))
            return installed;
    }
    return EH_SOURCE_DATA_DIR;
}

std::string fault_title(const Knowledge& knowledge, const Topology& topology, const FaultInstance& fault) {
    const FaultSpec* spec = knowledge.catalogue.find(fault.fault);
    assert(spec != nullptr);
    std::string owner;
    if (const Block* block = topology.find_block(fault.block))
        owner = block->title;
    else if (const BlockKind* kind = knowledge.find_kind(spec->kind))
        owner = "Customer's " + kind->title;
    return owner + ": " + spec->title;
}

}  // namespace eh
