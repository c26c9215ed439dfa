// SPDX-License-Identifier: GPL-3.0-or-later
// designs/variety.json
#include <algorithm>
#include <cmath>

#include "core/base/json_fields.h"
#include "core/machine/knowledge/load_knowledge.h"
#include "core/machine/knowledge/read_common.h"

namespace eh {
namespace {

constexpr double widest_share = 1.0;
constexpr double widest_factor = 100.0;

PinVariety read_pin(const JsonReader& item, const std::vector<BlockKind>& kinds) {
    PinVariety of_pin{item.text("kind"), item.text("pin"), {}};
    const auto kind =
        std::find_if(kinds.begin(), kinds.end(), [&](const BlockKind& k) { return k.id == of_pin.kind; });
    if (kind == kinds.end())
        item.at("kind").refuse("there is no kind “" + of_pin.kind + "” in kinds.json");
    if (std::find(kind->pins.begin(), kind->pins.end(), of_pin.pin) == kind->pins.end())
        item.at("pin").refuse("the pin “" + of_pin.pin + "” is not among the pins of this kind");
    if (!item.has("volts_share") && !item.has("ohms_factor"))
        item.refuse("a pin needs the spread of its volts, of its ohms, or of both");
    if (item.has("volts_share"))
        of_pin.net.volts_share = item.number_between("volts_share", 0.0, widest_share);
    if (item.has("ohms_factor"))
        of_pin.net.ohms_ln = std::log(item.number_between("ohms_factor", 1.0, widest_factor));
    return of_pin;
}

}  // namespace

Result<DesignVariety> parse_variety(const std::string& text, const std::string& file,
                                    const std::vector<BlockKind>& kinds) {
    return read_json<DesignVariety>(text, file, [&](const JsonReader& root) {
        root.check_format("eager-hound.variety", 1);
        DesignVariety variety;
        variety.amps_ln = std::log(root.number_between("amps_factor", 1.0, widest_factor));
        for (const JsonReader& item : root.items("pins"))
            variety.pins.push_back(read_pin(item, kinds));
        for (const JsonReader& item : root.items("habits")) {
            const auto habit = habit_from(item.text("id"));
            if (!habit)
                item.at("id").refuse("there is no habit “" + item.text("id") + "”");
            variety.habit_shares[static_cast<std::size_t>(*habit)] = item.number_between("share", 0.0, 1.0);
            variety.habit_words[static_cast<std::size_t>(*habit)] = {item.text("has"), item.text("has_not")};
            if (item.has("implies"))
                variety.implied[static_cast<std::size_t>(*habit)] =
                    read_word(item.at("implies"), &habit_from);
        }
        return variety;
    });
}

}  // namespace eh
