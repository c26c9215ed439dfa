// SPDX-License-Identifier: GPL-3.0-or-later
// kit.json
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/knowledge/read_common.h"
#include "core/machine/model/knowledge.h"

namespace eh {

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

ChargerSpec read_charger(const JsonReader& item) {
    static const std::map<std::string, Protection> protections{
        {"foldback", Protection::foldback}, {"hiccup", Protection::hiccup}, {"latched", Protection::latched}};
    ChargerSpec charger{item.text("id"), item.text("family"), item.text("title"), item.text("kind"), {}};
    for (const JsonReader& offer : item.items("offers"))
        charger.offers.push_back(
            {offer.number_between("volts", 0.0, 60.0), offer.number_between("amps", 0.0, 20.0)});
    if (charger.offers.empty())
        item.refuse("a charger offers at least one voltage");
    charger.protection = one_of(item.at("protection"), protections);
    charger.trip_s = item.number_between("trip_s", 0.001, 10.0);
    charger.recover_s = item.number_between("recover_s", 0.01, 60.0);
    return charger;
}

Result<std::vector<Chemistry>> parse_chemistries(const std::string& text, const std::string& file) {
    return read_json<std::vector<Chemistry>>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.chemistries", 1);
        std::vector<Chemistry> list;
        for (const JsonReader& item : root.items("chemistries")) {
            Chemistry cell{item.text("id"),
                           item.text("title"),
                           item.number_between("nominal_volts", 0.5, 6.0),
                           item.number_between("full_volts", 0.5, 6.0),
                           item.number_between("empty_volts", 0.5, 6.0),
                           {}};
            for (const JsonReader& point : item.items_or_none("rest")) {
                const double state = point.number_between("percent", 0.0, 100.0) / 100.0;
                const double volts = point.number_between("volts", 0.5, 6.0);
                if (!cell.rest_volts.empty() &&
                    (state <= cell.rest_volts.back().first || volts <= cell.rest_volts.back().second))
                    point.refuse("charge and volts must rise from point to point");
                cell.rest_volts.emplace_back(state, volts);
            }
            if (!(cell.empty_volts < cell.nominal_volts && cell.nominal_volts < cell.full_volts))
                item.refuse("an empty cell has fewer volts than its nominal ones, a full one more");
            list.push_back(std::move(cell));
        }
        if (list.empty())
            root.at("chemistries").refuse("there must be at least one");
        return list;
    });
}

Result<Kit> parse_kit(const std::string& text, const std::string& file) {
    return read_json<Kit>(text, file, [](const JsonReader& root) {
        root.check_format("eager-hound.kit", 1);
        Kit kit;
        for (const JsonReader& item : root.items("chargers"))
            kit.chargers.push_back(read_charger(item));
        for (const JsonReader& item : root.items("leads"))
            kit.leads.push_back({item.text("id"), item.text("family"), item.text("title"), item.text("kind"),
                                 item.boolean("fixed", false)});
        return kit;
    });
}

}  // namespace eh
