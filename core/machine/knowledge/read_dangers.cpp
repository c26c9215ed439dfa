// SPDX-License-Identifier: GPL-3.0-or-later
// dangers.json
#include <algorithm>
#include <set>

#include "core/base/json_fields.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/knowledge/read_common.h"

namespace eh {
namespace {

constexpr double most_ohms = 1000.0;  // more is no short

Danger read_danger(const JsonReader& item, const std::vector<BlockKind>& kinds) {
    static const std::map<std::string, KeepsPowerFrom> reaches{{"port", KeepsPowerFrom::port},
                                                               {"source", KeepsPowerFrom::source},
                                                               {"machine", KeepsPowerFrom::machine}};
    Danger danger;
    danger.id = item.text("id");
    danger.keeps_power_from = one_of(item.at("keeps_power_from"), reaches);
    danger.reason = item.text("reason");
    danger.instead = item.text("instead");
    const int told_by =
        (item.has("seen") ? 1 : 0) + (item.has("flaw") ? 1 : 0) + (item.has("below_ohms") ? 1 : 0);
    if (told_by != 1)
        item.refuse("a danger is known by how a part looks, by a flaw of it, or by few ohms: by one of them");
    if (item.has("below_ohms")) {
        danger.stage = item.text("stage");
        danger.below_ohms = item.number_between("below_ohms", 0.0, most_ohms);
        return danger;
    }
    if (item.has("seen"))
        danger.seen = read_word(item.at("seen"), &look_from);
    else
        danger.flaw = read_word(item.at("flaw"), &flaw_from);
    if (item.has("seen") || item.has("kinds"))
        danger.kinds = item.texts("kinds");
    for (const std::string& kind : danger.kinds) {
        if (std::none_of(kinds.begin(), kinds.end(), [&](const BlockKind& k) { return k.id == kind; }))
            item.at("kinds").refuse("there is no kind “" + kind + "” in kinds.json");
    }
    return danger;
}

}  // namespace

Result<std::vector<Danger>> parse_dangers(const std::string& text, const std::string& file,
                                          const std::vector<BlockKind>& kinds) {
    return read_json<std::vector<Danger>>(text, file, [&](const JsonReader& root) {
        root.check_format("eager-hound.dangers", 1);
        std::vector<Danger> dangers;
        std::set<std::string> ids;
        for (const JsonReader& item : root.items("dangers")) {
            dangers.push_back(read_danger(item, kinds));
            if (!ids.insert(dangers.back().id).second)
                item.at("id").refuse("two dangers have the id “" + dangers.back().id + "”");
        }
        return dangers;
    });
}

}  // namespace eh
