// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/said_before.h"

#include <nlohmann/json.hpp>

#include "core/base/json_reader.h"

namespace eh {

nlohmann::json write_said(const SaidBefore& said) {
    nlohmann::json repairs = nlohmann::json::array();
    for (const SaidRepair& repair : said.repairs)
        repairs.push_back(
            {{"block", repair.block}, {"work", to_text(repair.work)}, {"probability", repair.probability}});
    return {{"said_ms", said.said_ms}, {"repairs", std::move(repairs)}};
}

SaidBefore read_said(const JsonReader& field) {
    SaidBefore said;
    said.said_ms = field.integer("said_ms", 0);
    for (const JsonReader& item : field.items_or_none("repairs"))
        said.repairs.push_back({item.text("block"), work_from(item.text("work")).value_or(Work::other),
                                item.number_between("probability", 0.0, 1.0)});
    return said;
}

}  // namespace eh
